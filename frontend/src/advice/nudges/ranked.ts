import type { WhatToChange } from "./queries";

/** One list of all, what saves most first. */
export const ranked = ({ symptoms }: WhatToChange) =>
  symptoms
    .flatMap(({ nudges, ...symptom }) => nudges.map((nudge) => ({ symptom, nudge })))
    .sort((a, b) => b.nudge.saving.mean - a.nudge.saving.mean);
