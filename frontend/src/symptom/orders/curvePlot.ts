/** Geometry of the mild-quick curve: orders by effort and harm, the curve through the best of them. */
import { scaleLinear } from "d3-scale";
import { path } from "../../ui/path";

export interface PlotBox {
  width: number;
  height: number;
  margin: { left: number; right: number; top: number; bottom: number };
}

interface Placed<T> {
  point: T;
  x: number;
  y: number;
}

export interface CurvePlot<T> {
  curve: string;
  placed: Placed<T>[];
  effortTicks: { x: number; value: number }[];
  harmTicks: { y: number; value: number }[];
}

interface Figures {
  effort: number;
  harm: number;
}

/** `corners` are joined; all points, `others` too, are placed. Equal figures all round still get room. */
export function curvePlot<T extends Figures>(corners: readonly T[], others: readonly T[], box: PlotBox): CurvePlot<T> {
  const all = [...corners, ...others];
  const { left, right, top, bottom } = box.margin;
  const effort = scaleLinear(room(all.map((point) => point.effort)), [left, box.width - right]);
  const harm = scaleLinear(room(all.map((point) => point.harm)), [box.height - bottom, top]);
  const place = (point: T): Placed<T> => ({ point, x: round(effort(point.effort)), y: round(harm(point.harm)) });
  return {
    curve: path(
      corners.map((point) => [effort(point.effort), harm(point.harm)]),
      1,
    ),
    placed: all.map(place),
    effortTicks: effort.ticks(4).map((value) => ({ x: round(effort(value)), value })),
    harmTicks: harm.ticks(3).map((value) => ({ y: round(harm(value)), value })),
  };
}

const round = (n: number) => Math.round(n * 10) / 10;

/** From least to most with a tenth to spare on each side. */
function room(values: number[]): [number, number] {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const spare = (high - low) / 10 || Math.max(Math.abs(low) / 10, 0.5);
  return [low - spare, high + spare];
}
