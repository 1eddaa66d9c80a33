import { describe, expect, it } from "vitest";
import { harmPictured } from "./harm";

describe("harm in words", () => {
  it("says how often a record would be lost", () => {
    expect(harmPictured(0.42)).toBe("That weighs as much as about one lost record in 24 cases.");
    expect(harmPictured(0)).toBe("That is next to none.");
    expect(harmPictured(12)).toBe("That is more than one lost record in every case.");
  });
});
