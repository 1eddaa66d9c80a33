/** A forecast as the rungs that a taper draws. */
import type { Forecast } from "../api/types";
import type { TaperRung } from "./taper";

export const rungsOf = (forecast: Forecast): TaperRung[] =>
  forecast.rungs.map((rung) => ({
    arriving: rung.arriving,
    reach: rung.reach,
    ended: rung.resolved + rung.worked_around,
  }));
