/** Drawings of a nudge: what it would save as a bar with its interval, and the ladder before and after. */
import type { Span } from "../../ui/format";
import { taper } from "../../ui/taper/taper";

/** Where a bar with its interval stands on an axis from nothing to the most that any of them saves. */
export function savingMark({ mean, low, high }: Span, most: number, width: number) {
  const at = (value: number) => (Math.max(0, Math.min(value, most)) / (most || 1)) * width;
  return { dot: at(mean), low: at(low), high: at(high) };
}

/** The most that any of them saves, at the upper end of its interval. */
export const mostOf = (spans: readonly Span[]): number => Math.max(0, ...spans.map(({ high }) => high));

interface Known {
  a_month: number;
  promised: { saving: Span };
  came: { saving: Span } | null;
}

/** What changes promised and what came of them, in minutes a month; those alone of which it is known. */
export function allTogether(followed: readonly Known[]): { promised: number; came: number; changes: number } {
  const sum = { promised: 0, came: 0, changes: 0 };
  for (const { a_month, promised, came } of followed) {
    if (!came) continue;
    sum.promised += a_month * promised.saving.mean;
    sum.came += a_month * came.saving.mean;
    sum.changes += 1;
  }
  return sum;
}

/** The outline of a ladder by the share of cases that comes to each rung. */
export function outlineOf(arriving: readonly number[], width: number, height: number): ReturnType<typeof taper> {
  const rungs = arriving.map((share) => ({ arriving: share, reach: share, ended: 0, leaving: 0, side: [] }));
  const row = height / Math.max(rungs.length, 1);
  return taper(rungs, arriving.at(-1) ?? 1, { width, row, middle: width / 2 + 1 });
}
