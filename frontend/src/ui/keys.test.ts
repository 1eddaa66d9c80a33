import { describe, expect, it } from "vitest";
import { answerKey, doubles, harmKey, KEYS, listed, nameOfKey, pressed, printed } from "./keys";

const press = (key: string, more: Partial<KeyboardEvent> = {}) =>
  pressed({ key, altKey: false, ctrlKey: false, metaKey: false, shiftKey: false, ...more });

describe("the table of keys", () => {
  it("lets no key mean two things where one may press it", () => {
    expect(doubles()).toEqual([]);
  });

  it("refuses a second meaning in one place, and one that is had everywhere", () => {
    const copy = { ...KEYS, second: { place: "Guided case", keys: ["c"], says: "harm" } } as const;
    expect(doubles(copy)).toEqual(["c: copy and second"]);
    const find = { ...KEYS, second: { place: "Ladder", keys: ["/"], says: "slash" } } as const;
    expect(doubles(find)).toEqual(["/: find and second"]);
  });

  it("names what was pressed", () => {
    expect(press("Z", { ctrlKey: true, shiftKey: true })).toBe("mod+shift+z");
    expect(press("z", { metaKey: true })).toBe("mod+z");
    expect(press("ArrowUp", { altKey: true })).toBe("alt+arrowup");
    expect(press("?", { shiftKey: true })).toBe("?");
    expect(nameOfKey("c", () => true)).toBe("copy");
    expect(nameOfKey("c", (name) => name !== "copy")).toBeUndefined();
  });

  it("keeps the meaning of a key from step to step", () => {
    expect(["data", "service", "equipment", "security", "injury"].map((kind) => harmKey(kind))).not.toContain(
      undefined,
    );
    expect(harmKey("data")).toBe("harm-data");
    expect(answerKey("0")).toBe("cannot-tell");
    expect(answerKey("8")).toBe("answer-8");
    expect(answerKey("9")).toBeUndefined();
    expect(printed("rarer")).toBe("9");
  });

  it("lists every meaning once, as keys are printed", () => {
    const lines = listed().flatMap(({ keys }) => keys);
    expect(lines.filter(({ says }) => says === "answer")).toHaveLength(1);
    expect(lines).toContainEqual({ keys: "Ctrl + Shift + Z   Ctrl + Y", says: "redo" });
    expect(lines).toContainEqual({ keys: "↓   ↑", says: "go from rung to rung" });
    expect(printed("take-back")).toBe("u");
  });
});
