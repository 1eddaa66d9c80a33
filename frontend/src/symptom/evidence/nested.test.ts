import { describe, expect, it } from "vitest";
import type { StepEvidence } from "../../api/types";
import { cameUp, nestedBar } from "./nested";

const NONE = { mean: null, low: null, high: null };
const counts: StepEvidence = {
  step: "wipe",
  tried: 40,
  resolved: 20,
  judged: 18,
  held: 15,
  together: 0,
  found: 0,
  done: 0,
  could_not: 8,
  not_available: 1,
  nothing_to_do: 0,
  skipped: 1,
  took_unknown: 0,
  raw: NONE,
  holding: NONE,
};

describe("nestedBar", () => {
  it("nests each bar within the one before", () => {
    expect(cameUp(counts)).toBe(50);
    expect(nestedBar(counts, 100, 200)).toEqual({ cameUp: 100, tried: 80, resolved: 40, held: 30 });
  });

  it("draws nothing where there are no cases", () => {
    expect(nestedBar(counts, 0, 200).cameUp).toBe(0);
  });
});
