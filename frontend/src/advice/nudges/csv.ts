/** What to do next as a table that any other program reads. */
import { csvText } from "../../ui/csv";
import type { WhatToChange } from "./queries";
import { ranked } from "./ranked";

const HEAD = [
  "symptom",
  "what to do",
  "why",
  "hours of people a month less",
  "from",
  "to",
  "hours of waiting less",
  "parts less",
  "harm points less",
  "resolved before",
  "resolved after",
  "cases",
];

export const csvOf = (found: WhatToChange): string =>
  csvText([
    HEAD,
    ...ranked(found).map(({ symptom, nudge }) => [
      symptom.title,
      nudge.says,
      nudge.why,
      ...[nudge.people.mean / 60, nudge.people.low / 60, nudge.people.high / 60, nudge.waiting.mean / 60].map(short),
      ...[nudge.parts.mean, nudge.harm.mean, nudge.resolved_before, nudge.resolved_after].map(short),
      nudge.cases,
    ]),
  ]);

const short = (value: number) => Number(value.toFixed(4));
