/** What the Desk says in words: what is due, what a draft would spare, what an edition changed. */
import type { Schemas } from "../api/client";
import type { SymptomCard } from "../api/types";
import { tenths } from "../ui/format";

/** Those whose watch, part or answer is due by the end of the day, the longest overdue first. */
export function dueBy<Case extends Pick<Schemas["ClimbSummary"], "until">>(climbs: readonly Case[], now: Date): Case[] {
  const end = new Date(now.getFullYear(), now.getMonth(), now.getDate() + 1).getTime();
  const at = ({ until }: Case) => (until ? new Date(until).getTime() : Number.POSITIVE_INFINITY);
  return climbs.filter((one) => at(one) < end).toSorted((one, other) => at(one) - at(other));
}

const LEAST = 0.05;

/** Effort minutes a case that a draft takes less than what agents follow. */
export const spares = (less: number): string =>
  Math.abs(less) < LEAST ? "the same effort" : `${tenths(Math.abs(less))} min ${less > 0 ? "less" : "more"} a case`;

/** What the newest edition changed of how many were resolved, in points; of the cases as they came. */
export function changed({ edition, resolved, before }: NonNullable<SymptomCard["since"]>): string {
  const points = Math.round(100 * ((resolved.mean ?? 0) - (before.mean ?? 0)));
  return `${points > 0 ? "+" : points < 0 ? "−" : "±"}${Math.abs(points)} by edition ${edition}`;
}

interface OddNames {
  /** The symptom of which most is left to decide. */
  where: string;
  names: number;
  attempts: number;
  most: string;
  most_attempts: number;
}

/** All names that nobody has said the meaning of, with the one under which most was done; null where there are none. */
export function oddNames(symptoms: readonly Pick<SymptomCard, "id" | "odd_names">[]): OddNames | null {
  let all: OddNames | null = null;
  for (const { id, odd_names: odd } of symptoms.toSorted(byOddAttempts)) {
    if (!odd) break;
    all ??= { where: id, names: 0, attempts: 0, most: odd.most, most_attempts: odd.most_attempts };
    all.names += odd.names;
    all.attempts += odd.attempts;
    if (odd.most_attempts > all.most_attempts) Object.assign(all, { most: odd.most, most_attempts: odd.most_attempts });
  }
  return all;
}

type OddCard = Pick<SymptomCard, "odd_names">;

const byOddAttempts = (a: OddCard, b: OddCard) => (b.odd_names?.attempts ?? -1) - (a.odd_names?.attempts ?? -1);
