/** Where a step's raw rate and its chance if tried first stand on one axis from 0 to 100 %. */
import { scaleLinear } from "d3-scale";
import type { Rate, StepEstimate } from "../../api/types";
import { type RateMark, rateMark } from "../../ui/rateMark";

export interface PairMark {
  raw: RateMark | undefined;
  first: RateMark | undefined;
  /** A hollow whisker: the cases took away less than half of the prior doubt. */
  isJudged: boolean;
  /** Where the figure in words stands: right of its whisker, or left of it where there is no room. */
  says: { x: number; anchor: "start" | "end" };
}

const ROOM = 34;
const GAP = 8;
const LEAST_LEARNED = 0.5;

export function pairMark(raw: Rate, estimate: StepEstimate | undefined, width: number): PairMark {
  const rawMark = rateMark(raw, width);
  const first = rateMark(estimate?.first, width);
  const right = (first?.high ?? 0) + GAP;
  return {
    raw: rawMark,
    first,
    isJudged: (estimate?.learned ?? 1) < LEAST_LEARNED,
    says: right + ROOM <= width ? { x: right, anchor: "start" } : { x: (first?.low ?? 0) - GAP, anchor: "end" },
  };
}

/** Points of a line through shares in [0, 1], each as wide apart as the next, in a box. */
export function sparkline(shares: readonly (number | undefined)[], width: number, height: number): string {
  const x = scaleLinear([0, Math.max(1, shares.length - 1)], [0, width]);
  const y = scaleLinear([0, 1], [height, 0]);
  let path = "";
  let isOpen = false;
  shares.forEach((share, place) => {
    if (share === undefined) {
      isOpen = false;
      return;
    }
    path += `${isOpen ? "L" : "M"}${x(place).toFixed(1)},${y(share).toFixed(1)}`;
    isOpen = true;
  });
  return path;
}

/** A curve that stays until it steps, through shares in [0, most], in a box. */
export function stepCurve(shares: readonly number[], most: number, width: number, height: number): string {
  const x = scaleLinear([0, Math.max(1, shares.length - 1)], [0, width]);
  const y = scaleLinear([0, most], [height, 0]);
  return shares
    .map((share, day) => (day === 0 ? `M0,${y(share).toFixed(1)}` : `H${x(day).toFixed(1)}V${y(share).toFixed(1)}`))
    .join("");
}
