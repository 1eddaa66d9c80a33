/** The path of a straight-edged line through points, as an SVG's `d`. */

export type Point = readonly [x: number, y: number];

/** Nothing for no points; a single point is a line without length, which a round end makes a dot. */
export function path(points: readonly Point[], places = 2): string {
  const by = 10 ** places;
  const round = (n: number) => Math.round(n * by) / by;
  const [first, ...others] = points.map(([x, y]) => `${round(x)},${round(y)}`);
  if (first === undefined) return "";
  return others.length > 0 ? `M${[first, ...others].join("L")}` : `M${first}Z`;
}
