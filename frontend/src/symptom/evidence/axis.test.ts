import { describe, expect, it } from "vitest";
import type { StepEstimate } from "../../api/types";
import { pairMark, sparkline, stepCurve } from "./axis";

const NONE = { mean: null, low: null, high: null };
const estimated = (mean: number, learned = 0.9): StepEstimate => ({
  step: "wipe",
  first: { mean, low: mean - 0.05, high: mean + 0.05 },
  here: NONE,
  lasting: NONE,
  learned,
  units: 1,
  refused: null,
  rhat: 1,
  size: 500,
});

describe("pairMark", () => {
  it("puts the words right of the whisker, and left of it where there is no room", () => {
    expect(pairMark(NONE, estimated(0.2), 200).says).toEqual({ x: 58, anchor: "start" });
    expect(pairMark(NONE, estimated(0.8), 200).says).toEqual({ x: 142, anchor: "end" });
  });

  it("has a hollow whisker where the cases taught little", () => {
    expect(pairMark(NONE, estimated(0.2, 0.4), 200).isJudged).toBe(true);
    expect(pairMark(NONE, estimated(0.2, 0.6), 200).isJudged).toBe(false);
  });

  it("has no dot where there is no figure", () => {
    const mark = pairMark(NONE, undefined, 200);
    expect([mark.raw, mark.first]).toEqual([undefined, undefined]);
  });
});

describe("lines", () => {
  it("break where a month has nothing to show", () => {
    expect(sparkline([0, 1, undefined, 0.5], 30, 10)).toBe("M0.0,10.0L10.0,0.0M30.0,5.0");
  });

  it("step down a day at a time", () => {
    expect(stepCurve([0, 0.5, 1], 1, 20, 10)).toBe("M0,10.0H10.0V5.0H20.0V0.0");
  });
});
