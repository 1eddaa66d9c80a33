import { describe, expect, it } from "vitest";
import { addedIn, MINUTES, NAME, NUMBER, partOf, withPart } from "./ways";

describe("what is typed into fields", () => {
  it("is a number where it reads as one, and stays as it is typed where it does not", () => {
    const typed = (text: string) => NUMBER.write(text, null);
    expect([typed("5"), typed("2,5"), typed(""), typed("5 min"), typed("1e"), typed("-3")]).toEqual([
      5,
      2.5,
      null,
      "5 min",
      "1e",
      -3,
    ]);
    expect(NUMBER.read(2.5)).toBe("2.5");
  });

  it("is minutes of work, with what is added to them in words", () => {
    const typed = (text: string) => MINUTES.write(text, null);
    expect([typed("3"), typed("3 + 8 wait"), typed("2,5+"), typed("+ 8 wait"), typed("soon")]).toEqual([
      3,
      3,
      2.5,
      "+ 8 wait",
      "soon",
    ]);
    expect(addedIn("3 + 8 wait + 20 min journey +1,5 parts + 4 waitress")).toEqual([
      ["wait", 8],
      ["travel", 20],
      ["parts", 1.5],
    ]);
    expect(addedIn("3 + 8")).toEqual([]);
  });

  it("is a part of what is set as a whole; with nothing in it, there is no whole", () => {
    expect(withPart(null, ["effort", "wait"], 3)).toEqual({ effort: { wait: 3 } });
    expect(withPart({ a: 1, effort: { wait: 3 } }, ["effort", "wait"], null)).toEqual({ a: 1 });
    expect(withPart({ effort: { wait: 3 } }, ["effort", "wait"], null)).toBeNull();
    expect(partOf({ effort: { wait: 3 } }, ["effort", "wait"])).toBe(3);
    expect(partOf(null, ["effort", "wait"])).toBeUndefined();
  });

  it("is a name that files can write, where words can be one", () => {
    expect(NAME.write("Lane Page", null)).toBe("lane-page");
    expect(NAME.write("Écran 2", null)).toBe("ecran-2");
    expect(NAME.write("экран", null)).toBe("экран");
    expect(NAME.read("lane-page")).toBe("lane page");
  });
});
