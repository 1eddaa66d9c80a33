/** A forecast as the rungs that a taper draws, its side rails beside the rung that opens them. */
import type { Forecast } from "../../api/types";
import type { TaperRung } from "./taper";

type RungFigures = Forecast["rungs"][number];

/** Share of cases that a rung ends by itself, what its side rails end not counted. */
export function endedHere(figures: RungFigures, side: readonly RungFigures[]): number {
  const mine = side.filter((one) => isChild(figures.path, one.path));
  return Math.max(0, ended(figures) - mine.reduce((sum, one) => sum + ended(one), 0));
}

/** Taper rungs for the rows of a ladder: `rows` gives the path of each row, rungs and ends of rails alike; `folded` those
 * whose rows are folded. */
export function taperRungs(forecast: Forecast, rows: readonly string[], folded?: ReadonlySet<string>): TaperRung[] {
  const side = new Map(forecast.side.map((one) => [one.path, one]));
  return forecast.rungs.map((rung) => ({
    arriving: rung.arriving,
    reach: rung.reach,
    ended: endedHere(rung, forecast.side),
    leaving: rung.handed_off + rung.sent_on,
    ...(folded?.has(rung.path) && { isFolded: true }),
    side: rows
      .filter((path) => path.startsWith(`${rung.path}.on.`))
      .map((path) => {
        const one = side.get(path);
        return one ? { reach: one.reach, ended: endedHere(one, forecast.side) } : { reach: 0, ended: 0 };
      }),
  }));
}

/** The same for a small drawing: side rails are folded into the rung that opens them. */
export const foldedRungs = (forecast: Forecast): TaperRung[] =>
  forecast.rungs.map((rung) => ({
    arriving: rung.arriving,
    reach: rung.reach,
    ended: ended(rung),
    leaving: rung.handed_off + rung.sent_on,
    side: [],
  }));

/** The rows of a ladder with the widths of another order's rungs, by place; rows of rails keep their room. */
export const arrivingRungs = (arriving: readonly number[], rows: readonly TaperRung[]): TaperRung[] =>
  rows.map((row, place) => {
    const share = arriving[place] ?? arriving.at(-1) ?? row.arriving;
    return { ...row, arriving: share, reach: share };
  });

const ended = (figures: RungFigures) => figures.resolved + figures.worked_around;

const isChild = (parent: string, path: string) =>
  path.startsWith(`${parent}.on.`) && !path.slice(parent.length + 4).includes(".on.");

/** What comes out at the foot of the main line, unresolved. */
export const leftAtFoot = (forecast: Forecast): number =>
  Math.max(
    0,
    forecast.handed_off + forecast.sent_on - forecast.rungs.reduce((sum, r) => sum + r.handed_off + r.sent_on, 0),
  );
