/** Geometry of the share resolved against the effort spent. */
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { EstimateView } from "../api/types";

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
  const path = (points: readonly Spent[] | null | undefined) =>
    points
      ? (line<Spent>(
          ({ effort }) => round(x(effort)),
          ({ ended }) => round(y(ended)),
        )([...points]) ?? "")
      : undefined;
  return {
    forecast: path(forecast) ?? "",
    best: path(best),
    observed: path(observed),
    ticks: x.ticks(5).map((value) => ({ x: round(x(value)), value })),
    half: y(0.5),
    all: y(1),
  };
}

const round = (n: number) => Math.round(n * 10) / 10;
