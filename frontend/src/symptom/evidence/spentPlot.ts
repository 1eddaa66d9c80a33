/** Geometry of the share resolved against the effort spent. */
import { scaleLinear } from "d3-scale";
import type { EstimateView } from "../../api/types";
import { path } from "../../ui/path";

export type Spent = EstimateView["spent"]["forecast"][number];

export interface SpentPlot {
  forecast: string;
  best: string | undefined;
  observed: string | undefined;
  ticks: { x: number; value: number }[];
  /** Where 50 and 100 % stand. */
  half: number;
  all: number;
}

export function spentPlot(
  { forecast, best, observed }: EstimateView["spent"],
  width: number,
  height: number,
): SpentPlot {
  const all = [...forecast, ...(best ?? []), ...(observed ?? [])];
  const x = scaleLinear([0, Math.max(1, ...all.map(({ effort }) => effort))], [0, width]);
  const y = scaleLinear([0, 1], [height, 0]);
  const drawn = (points: readonly Spent[]) =>
    path(
      points.map(({ effort, ended }) => [x(effort), y(ended)]),
      1,
    );
  return {
    forecast: drawn(forecast),
    best: best ? drawn(best) : undefined,
    observed: observed ? drawn(observed) : undefined,
    ticks: x.ticks(5).map((value) => ({ x: round(x(value)), value })),
    half: y(0.5),
    all: y(1),
  };
}

const round = (n: number) => Math.round(n * 10) / 10;
