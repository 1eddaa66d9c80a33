import { describe, expect, it } from "vitest";
import { placeAfter } from "./rungs";

describe("placeAfter", () => {
  it("moves by places and stays on the ladder", () => {
    expect(placeAfter(3, -1, 9)).toBe(2);
    expect(placeAfter(0, -1, 9)).toBe(0);
    expect(placeAfter(8, 1, 9)).toBe(8);
  });
});
