/** What was done before the call, as it is told: one thing after another, each a step of the ladder where it says so. */
import type { ClimbView } from "../../api/types";

type Step = ClimbView["untried"][number];

/** One thing that was done. called: in their words; step: the one that they mean, where that is plain; or: the few that
 * they may mean. */
export interface Before {
  called: string;
  step?: Step;
  or?: Step[];
}

const BETWEEN = /\s*(?:[,;\n]|\band then\b|\bthen\b|\band\b)\s*/i;
const LONGEST = 120;
const FEW = 5;
/** Words that tell steps apart from nothing. */
const EMPTY = new Set(["the", "a", "an", "it", "its", "they", "we", "i", "to", "of", "in", "on", "at", "and", "again"]);

/** What a line tells, in order; the same thing twice is one. */
export function readBefore(text: string, steps: readonly Step[]): Before[] {
  const isOne = stepsMeant(text.trim(), steps).length === 1;
  const parts = isOne ? [text.trim()] : text.split(BETWEEN);
  const told = parts.map((part) => part.trim().slice(0, LONGEST)).filter(Boolean);
  const found = told.map((called): Before => {
    const [step, ...others] = stepsMeant(called, steps);
    if (step && others.length === 0) return { called, step };
    return step && others.length < FEW ? { called, or: [step, ...others] } : { called };
  });
  const names = found.map(({ called, step }) => step?.id ?? called.toLowerCase());
  return found.filter((_, number) => names.indexOf(names[number] ?? "") === number);
}

/** The steps that have all the telling words in their title, be it in another form; the one that is called so alone. */
function stepsMeant(called: string, steps: readonly Step[]): Step[] {
  const exact = steps.find(({ title }) => title.toLowerCase() === called.toLowerCase());
  if (exact) return [exact];
  const words = telling(called);
  if (words.length === 0) return [];
  return steps.filter(({ title }) => {
    const there = telling(title);
    return words.every((word) => there.some((other) => isLike(word, other)));
  });
}

const telling = (text: string): string[] =>
  (text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []).filter((word) => !EMPTY.has(word));

/** The same word, or another form of it: what both begin with is all but its ending. */
function isLike(one: string, other: string): boolean {
  if (one === other) return true;
  const least = Math.min(one.length, other.length);
  let same = 0;
  while (same < least && one[same] === other[same]) same++;
  return same >= 4 && same >= Math.max(one.length, other.length) - 3;
}
