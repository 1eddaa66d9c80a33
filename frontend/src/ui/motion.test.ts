import { describe, expect, it } from "vitest";
import { areSwapped } from "./motion";

describe("what slides", () => {
  it("is not two neighbours that change places", () => {
    expect(areSwapped(["a", "b", "c"], ["b", "a", "c"])).toBe(true);
    expect(areSwapped(["a", "b", "c"], ["a", "c", "b"])).toBe(true);
  });

  it("is every other change of order", () => {
    expect(areSwapped(["a", "b", "c"], ["c", "b", "a"])).toBe(false);
    expect(areSwapped(["a", "b", "c"], ["b", "c", "a"])).toBe(false);
    expect(areSwapped(["a", "b"], ["a", "b", "c"])).toBe(false);
    expect(areSwapped(["a", "b", "c"], ["a", "b", "c"])).toBe(false);
    expect(areSwapped(["a", "b", "c"], ["a", "d", "e"])).toBe(false);
  });
});
