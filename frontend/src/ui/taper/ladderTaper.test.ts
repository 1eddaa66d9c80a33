import { describe, expect, it } from "vitest";
import type { Forecast } from "../../api/types";
import { endedHere, foldedRungs, leftAtFoot, taperRungs } from "./ladderTaper";

const figures = (path: string, resolved: number, more = {}): Forecast["rungs"][number] => ({
  path,
  step: "s",
  arriving: 1,
  reach: 0.5,
  resolved,
  worked_around: 0,
  handed_off: 0,
  sent_on: 0,
  effort: 0,
  harm: 0,
  ...more,
});

const FORECAST: Forecast = {
  effort: 0,
  harm: 0,
  elapsed: 0,
  resolved: 0.6,
  worked_around: 0,
  handed_off: 0.4,
  sent_on: 0,
  rungs: [figures("ladder.0", 0.5, { handed_off: 0.1 }), figures("ladder.10", 0.1)],
  side: [figures("ladder.0.on.red.0", 0.3), figures("ladder.0.on.red.0.on.blue.0", 0.1)],
  by_cause: {},
};

describe("a forecast as a taper", () => {
  it("counts for a rung what it ends by itself", () => {
    expect(FORECAST.rungs.map((rung) => endedHere(rung, FORECAST.side))).toEqual([0.2, 0.1]);
    const [outer] = FORECAST.side;
    expect(outer && endedHere(outer, FORECAST.side)).toBeCloseTo(0.2);
  });

  it("hangs side rows on their own rung, ends of rails too", () => {
    const rows = ["ladder.0", "ladder.0.on.red.0", "ladder.0.on.red.0.on.blue.0", "ladder.0.on.red.1", "ladder.10"];
    const [first, second] = taperRungs(FORECAST, rows);
    expect(first?.side).toHaveLength(3);
    expect(first?.side[2]).toEqual({ reach: 0, ended: 0 });
    expect(first?.leaving).toBe(0.1);
    expect(second?.side).toEqual([]);
  });

  it("folds side rails into small drawings and leaves at the foot what is handed off there", () => {
    expect(foldedRungs(FORECAST).map((rung) => rung.ended)).toEqual([0.5, 0.1]);
    expect(leftAtFoot(FORECAST)).toBeCloseTo(0.3);
  });
});
