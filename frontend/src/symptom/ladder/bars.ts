/** Geometry of a row's small drawings: the effort bar, and a rate with its whisker on an axis from 0 to 1. */
import { scaleLinear } from "d3-scale";
import type { Judged } from "../../api/types";

interface Span {
  x: number;
  width: number;
}

export interface EffortBar {
  handsOn: Span;
  wait: Span;
  travel: Span;
}

const THINNEST = 2;

/** The longest step's clock minutes, which fill the bar. */
export const longest = (judged: readonly Pick<Judged, "elapsed">[]) =>
  Math.max(1, ...judged.map(({ elapsed }) => elapsed));

/** Hands-on, then waiting, then the journey, on one scale; what is there at all can be seen. */
export function effortBar(
  judged: Pick<Judged, "hands_on" | "wait" | "travel">,
  most: number,
  width: number,
): EffortBar {
  const scale = scaleLinear([0, most], [0, width]);
  const length = (minutes: number) => (minutes > 0 ? Math.max(scale(minutes), THINNEST) : 0);
  const handsOn = { x: 0, width: length(judged.hands_on) };
  const wait = { x: handsOn.width, width: length(judged.wait) };
  const travel = { x: wait.x + wait.width, width: length(judged.travel) };
  return { handsOn, wait, travel };
}
