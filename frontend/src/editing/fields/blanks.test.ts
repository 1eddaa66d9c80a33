import { describe, expect, it } from "vitest";
import { offered, sampled, withBlanks, withNames } from "./blanks";

const items = [
  { key: "klane00000", ask: "Lane number" },
  { key: "k2", id: "speed", ask: "Speed" },
];

describe("blanks in texts", () => {
  it("are shown by what is asked and kept by what the draft calls it", () => {
    const way = withBlanks(items);
    const kept = "Open {klane00000}, not {not speed}, {nobody} {";
    const typed = "Open {Lane number}, not {not Speed}, {nobody} {";
    expect(way.read(kept)).toBe(typed);
    expect(way.write(typed, null)).toBe(kept);
    expect(way.write("", null)).toBeNull();
  });

  it("stand in sums too", () => {
    const way = withNames(items);
    expect(way.read("speed * 0.92 + klane00000")).toBe("{Speed} * 0.92 + {Lane number}");
    expect(way.write("{Speed} * 0.92 + {Lane number}", null)).toBe("speed * 0.92 + klane00000");
  });

  it("hold a value that stands for any where an agent's view is shown, and never a name of files", () => {
    const fill = sampled([...items, { key: "k3", id: "model", ask: "Model", choices: { GR4: 0.4, GR6: 0.6 } }]);
    expect(fill("Set {model}, not {not model}, on {klane00000}")).toBe("Set GR6, not GR4, on ‹Lane number›");
  });

  it("are offered after a bracket that is not closed", () => {
    expect(offered("Open {la", 8, items)).toEqual({ from: 5, titles: ["Lane number"] });
    expect(offered("Open {Lane number} now", 22, items)).toBeUndefined();
    expect(offered("Open", 4, items)).toBeUndefined();
  });
});
