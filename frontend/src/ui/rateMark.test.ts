import { describe, expect, it } from "vitest";
import { rateMark } from "./rateMark";

describe("rateMark", () => {
  it("puts dot and whisker on the axis", () => {
    expect(rateMark({ mean: 0.5, low: 0.25, high: 1 }, 160)).toEqual({ dot: 80, low: 40, high: 160 });
  });

  it("draws nothing for a step that was never tried", () => {
    expect(rateMark({ mean: null, low: null, high: null }, 160)).toBeUndefined();
    expect(rateMark(undefined, 160)).toBeUndefined();
  });
});
