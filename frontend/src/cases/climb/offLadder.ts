/** What was done off the ladder, as it is typed, and as it is logged. */
import type { ClimbView, Move } from "../../api/types";

export type Outcome = Extract<Move, { kind: "off-ladder" }>["outcome"];

export const OUTCOMES: readonly { outcome: Outcome; says: string }[] = [
  { outcome: "no-change", says: "No change" },
  { outcome: "fixed", says: "Fixed" },
  { outcome: "better", says: "Better, not gone" },
  { outcome: "worse", says: "Worse" },
  { outcome: "done", says: "Done, nothing to try" },
];

/** step: the step that it is; undefined: it is only in the agent's own words. */
export interface Did {
  step?: string;
  called: string;
  why: string;
  outcome: Outcome;
  isAgreed: boolean;
}

/** What is to be logged; undefined while something is missing. */
export function moveOf({ step, called, why, outcome, isAgreed }: Did, isRepeat: boolean): Move | undefined {
  const name = called.trim();
  if (!name || (isRepeat && !why.trim())) return undefined;
  return {
    kind: "off-ladder",
    step: step ?? null,
    called: name,
    why: step && why.trim() ? why.trim() : null,
    outcome,
    agreed: Boolean(step) && isAgreed,
  };
}

const MOST = 6;

interface Suggested {
  id: string;
  title: string;
  from: string;
}

/** Steps of that name: this ladder's that were tried, or that may be, and the library's. */
export function suggestions(
  view: Pick<ClimbView, "path">,
  called: string,
  library: readonly { id: string; title: string }[],
): Suggested[] {
  const words = called.trim().toLowerCase();
  if (words.length < 3) return [];
  const here = view.path
    .filter(({ title, state }) => state === "tried" && title.toLowerCase().includes(words))
    .map(({ step, title }) => ({ id: step, title, from: "done already on this case" }));
  const known = new Set(view.path.map(({ step }) => step));
  const others = library
    .filter(({ id }) => !known.has(id))
    .map(({ id, title }) => ({ id, title, from: "from the library" }));
  const all = [...here, ...others];
  return all.filter(({ id }, at) => all.findIndex((one) => one.id === id) === at).slice(0, MOST);
}
