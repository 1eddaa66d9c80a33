/**
 * The geometry of the taper: two rails that stand apart in proportion to the cases still unresolved.
 *
 * Pure numbers, so that the builder, the guided case and the list of symptoms draw the same shape at their own sizes.
 * Shares are of all cases; every length that stands for a share is on one scale, so a tab is as wide as the ladder
 * narrows by it. Side rails hang beside the ladder, in rows of their own below the rung that opens them.
 */
import { type Point, path } from "../path";

interface SideRung {
  /** Share of cases for which it comes up; 0 for a row that only says where a rail ends. */
  reach: number;
  /** Share of cases that it ends. */
  ended: number;
}

export interface TaperRung {
  /** Share of cases still unresolved above the rung. */
  arriving: number;
  /** Share of cases for which its step comes up. */
  reach: number;
  /** Share of cases that it ends by itself, side rails not counted. */
  ended: number;
  /** Share of cases that leave the ladder unresolved on its side rails. */
  leaving: number;
  side: readonly SideRung[];
  /** It is passed by: its row is a line of less height. */
  isFolded?: boolean;
}

/** How high a folded row is beside a whole one. */
const FOLDED = 0.5;

export interface TaperBox {
  /** Width of the rails where every case is unresolved. */
  width: number;
  /** Height of one rung's row. */
  row: number;
  /** Where the middle of the ladder stands. */
  middle: number;
}

export interface Tab {
  x: number;
  width: number;
}

export interface SideLine {
  y: number;
  left: number;
  right: number;
  tab: Tab;
}

export interface RungLine {
  left: number;
  right: number;
  y: number;
  /** Ends of the rails at this rung. */
  railLeft: number;
  railRight: number;
  /** What is resolved leaves to the right; width 0 where nothing is. */
  tab: Tab;
  /** What is handed off leaves to the left, as a hollow tab. */
  off: Tab;
  side: SideLine[];
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

const THINNEST = 1;

/** The drawing of a ladder whose foot lets `left` of the cases through, unresolved. */
export function taper(rungs: readonly TaperRung[], left: number, box: TaperBox): TaperDrawing {
  const half = (share: number) => Math.max((share * box.width) / 2, THINNEST);
  const right: Point[] = [[half(rungs[0]?.arriving ?? left), 0]];
  let top = 0;
  const lines = rungs.map((rung, index): RungLine => {
    const row = rung.isFolded ? FOLDED * box.row : box.row;
    const y = top + row / 2;
    const rail = half(rung.arriving);
    const side = rung.side.map((one, number) =>
      sideLine(one, box.middle + rail, y + (number + 1) * box.row, box.width),
    );
    const last = y + rung.side.length * box.row;
    top += row + rung.side.length * box.row;
    right.push([rail, last + box.row * 0.08], [half(rungs[index + 1]?.arriving ?? left), top]);
    const off = rung.leaving * box.width;
    return {
      left: box.middle - half(rung.reach),
      right: box.middle + half(rung.reach),
      y,
      railLeft: box.middle - rail,
      railRight: box.middle + rail,
      tab: { x: box.middle + rail, width: rung.ended * box.width },
      off: { x: box.middle - rail - off, width: off },
      side,
    };
  });
  if (rungs.length === 0) {
    top = box.row;
    right.push([half(left), top]);
  }
  const onRight = right.map(([x, y]): Point => [box.middle + x, y]);
  const onLeft = right.map(([x, y]): Point => [box.middle - x, y]);
  return {
    height: top,
    body: `${path([...onRight, ...onLeft.toReversed()])}Z`,
    leftRail: path(onLeft),
    rightRail: path(onRight),
    rungs: lines,
    foot: half(left),
  };
}

const GAP = 4;

function sideLine({ reach, ended }: SideRung, rail: number, y: number, width: number): SideLine {
  const left = rail + GAP;
  return { y, left, right: left + reach * width, tab: { x: left, width: ended * width } };
}

/** Heights of the notches cut into a rail for a risk grade of 0 to 4, around the height of its rung. */
export function notches(grade: number, y: number, gap: number): number[] {
  return Array.from({ length: grade }, (_, number) => y + (number - (grade - 1) / 2) * gap);
}
