import { describe, expect, it } from "vitest";
import { bordersOf, dragged, fromCounts, movedBorder, sharesOf, withValue } from "./shares";

const sum = (all: readonly number[]) => all.reduce((a, b) => a + b, 0);

describe("shares on a bar", () => {
  it("are parts of one, equal where nobody weighs anything", () => {
    expect(sharesOf([5, 4, 1])).toEqual([0.5, 0.4, 0.1]);
    expect(sharesOf([0, 0])).toEqual([0.5, 0.5]);
  });

  it("divide anew between two neighbours alone, and stay the same together", () => {
    const now = dragged([5, 4, 1], 0, 0.1);
    expect(now).toEqual([6, 3, 1]);
    expect(sum(dragged([5, 4, 1], 1, -0.05))).toBeCloseTo(10);
  });

  it("are never below nothing, however far a border is dragged", () => {
    expect(dragged([5, 4, 1], 0, 9)).toEqual([9, 0, 1]);
    expect(dragged([5, 4, 1], 0, -9)).toEqual([0, 9, 1]);
  });

  it("come from counts and make up one", () => {
    const made = fromCounts({ GR4: 2, GR6: 1, other: 0 });
    expect(made).toEqual({ GR4: 0.667, GR6: 0.333, other: 0 });
    expect(sum(Object.values(fromCounts({ a: 1, b: 1, c: 1 })))).toBeCloseTo(1, 12);
    expect(fromCounts({})).toEqual({});
  });

  it("are equal with one more value as long as nobody said otherwise", () => {
    expect(withValue({}, "a")).toEqual({ a: 1 });
    expect(withValue({ a: 1 }, "b")).toEqual({ a: 0.5, b: 0.5 });
    const three = withValue({ a: 0.5, b: 0.5 }, "c");
    expect(sum(Object.values(three))).toBeCloseTo(1);
    expect(Object.values(withValue(three, "d"))).toEqual([0.25, 0.25, 0.25, 0.25]);
  });

  it("leave to one more value what the others leave, once somebody has said how they divide", () => {
    expect(withValue({ a: 0.7, b: 0.3 }, "c")).toEqual({ c: 0 });
    expect(withValue({ a: 0.7, b: 0.1 }, "c")).toEqual({ c: 0.2 });
  });
});

describe("borders", () => {
  it("lie between the shares, and say which of them was moved", () => {
    expect(bordersOf([0.5, 0.25, 0.25])).toEqual([0.5, 0.75]);
    expect(movedBorder([0.5, 0.75], [0.5, 0.8])).toEqual({ border: 1, by: expect.closeTo(0.05) });
    expect(movedBorder([0.5, 0.75], [0.5, 0.75])).toBeUndefined();
  });
});
