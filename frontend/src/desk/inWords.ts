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
