/** What the points of the curve are called, and how they compare with the draft. */
import type { CurvePoint, CurveView } from "../../api/types";
import { difference, points, tenths } from "../../ui/format";

type PointName = "quickest" | "mildest" | "between" | "only" | "mildest-first" | "draft";

export interface NamedPoint {
  name: PointName;
  point: CurvePoint;
}

const CALLED: Record<PointName, string> = {
  quickest: "Quickest order",
  mildest: "Order of least harm",
  between: "Order between",
  only: "Best order",
  "mildest-first": "Best with the mildest first",
  draft: "The draft",
};

export const called = (name: PointName): string => CALLED[name];

/** The corners from quickest to mildest, then the best order with the mildest first, then the draft. */
export function namedPoints(curve: CurveView): NamedPoint[] {
  const last = curve.points.length - 1;
  const corners = curve.points.map((point, index): NamedPoint => {
    if (last === 0) return { name: "only", point };
    return { name: index === 0 ? "quickest" : index === last ? "mildest" : "between", point };
  });
  return [
    ...corners,
    ...(curve.mildest ? [{ name: "mildest-first", point: curve.mildest } as const] : []),
    { name: "draft", point: curve.draft },
  ];
}

/** Effort and harm of an order, and what they are more or less than the draft's. */
export function againstDraft({ name, point }: NamedPoint, curve: CurveView): string {
  const figures = `${tenths(point.effort)} effort minutes and ${points(point.harm)} harm points a case`;
  if (name === "draft") return `${figures}.`;
  const effort = difference(point.effort - curve.draft.effort, 0.05, tenths, "min");
  const harm = difference(point.harm - curve.draft.harm, 0.005, points, "harm");
  if (effort === "same min" && harm === "same harm") return `${figures}: the same as the draft.`;
  return `${figures}: ${effort}, ${harm} than the draft.`.replace(/same (min|harm)/, "the same $1");
}

export const samePoint = (a: NamedPoint, b: NamedPoint): boolean => a.name === b.name && a.point === b.point;
