/**
 * The geometry of the taper: two rails that stand apart in proportion to the cases still unresolved.
 *
 * Pure numbers, so that the builder, the guided case and the list of symptoms draw the same shape at their own sizes.
 * Shares are of all cases; every length that stands for a share is on one scale, so a tab is as wide as the ladder
 * narrows by it.
 */
import { line } from "d3-shape";

export interface TaperRung {
  /** Share of cases still unresolved above the rung. */
  arriving: number;
  /** Share of cases for which its step comes up. */
  reach: number;
  /** Share of cases that it ends. */
  ended: number;
}

export interface TaperBox {
  /** Width of the rails where every case is unresolved. */
  width: number;
  /** Height of one rung's row. */
  row: number;
  /** Where the middle of the ladder stands. */
  middle: number;
}

export interface RungLine {
  left: number;
  right: number;
  y: number;
  /** Ends of the rails at this rung. */
  railLeft: number;
  railRight: number;
  /** The tab that leaves to the right: its left edge and width; width 0 where nothing is resolved. */
  tabX: number;
  tabWidth: number;
}

export interface TaperDrawing {
  height: number;
  /** The filled shape between the rails. */
  body: string;
  leftRail: string;
  rightRail: string;
  rungs: RungLine[];
  /** What is left at the foot: half its width, either side of the middle. */
  foot: number;
}

type Point = [number, number];

const THINNEST = 1;
const draw = line<Point>()
  .x(([x]) => round(x))
  .y(([, y]) => round(y));

/** The drawing of a ladder whose foot lets `left` of the cases through, unresolved. */
export function taper(rungs: readonly TaperRung[], left: number, box: TaperBox): TaperDrawing {
  const half = (share: number) => Math.max((share * box.width) / 2, THINNEST);
  const height = Math.max(rungs.length, 1) * box.row;
  const right: Point[] = [[half(rungs[0]?.arriving ?? left), 0]];
  const lines = rungs.map((rung, index): RungLine => {
    const y = (index + 0.5) * box.row;
    const rail = half(rung.arriving);
    const below = half(rungs[index + 1]?.arriving ?? left);
    right.push([rail, y + box.row * 0.08], [below, (index + 1) * box.row]);
    const tabWidth = rung.ended * box.width;
    return {
      left: box.middle - half(rung.reach),
      right: box.middle + half(rung.reach),
      y,
      railLeft: box.middle - rail,
      railRight: box.middle + rail,
      tabX: box.middle + rail,
      tabWidth,
    };
  });
  if (rungs.length === 0) right.push([half(left), height]);
  const onRight = right.map(([x, y]): Point => [box.middle + x, y]);
  const onLeft = right.map(([x, y]): Point => [box.middle - x, y]);
  return {
    height,
    body: `${draw([...onRight, ...onLeft.toReversed()])}Z`,
    leftRail: draw(onLeft) ?? "",
    rightRail: draw(onRight) ?? "",
    rungs: lines,
    foot: half(left),
  };
}

/** Heights of the notches cut into a rail for a risk grade of 0 to 4, around the height of its rung. */
export function notches(grade: number, y: number, gap: number): number[] {
  return Array.from({ length: grade }, (_, number) => y + (number - (grade - 1) / 2) * gap);
}

const round = (n: number) => Math.round(n * 100) / 100;
