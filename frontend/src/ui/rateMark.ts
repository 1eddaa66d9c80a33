/** Where a rate stands on its axis. */
import { scaleLinear } from "d3-scale";
import type { Rate } from "../api/types";

export interface RateMark {
  dot: number;
  low: number;
  high: number;
}

/** Where a rate's dot and whisker stand on an axis of that width; undefined when nothing was counted. */
export function rateMark(rate: Rate | undefined, width: number): RateMark | undefined {
  if (rate?.mean == null || rate.low == null || rate.high == null) return undefined;
  const scale = scaleLinear([0, 1], [0, width]);
  return { dot: scale(rate.mean), low: scale(rate.low), high: scale(rate.high) };
}
