/** Brackets down the side of a ladder: which neighbouring rungs share a footing, or are tested together. */
import type { RowView } from "../../api/types";

export type Bracket = "alone" | "first" | "middle" | "last";

/** For each row, its part of the bracket of those that have the same value; undefined where there is none. */
export function brackets(values: readonly (string | null)[]): (Bracket | undefined)[] {
  return values.map((value, index) => {
    if (value === null) return undefined;
    const above = values[index - 1] === value;
    const below = values[index + 1] === value;
    if (above && below) return "middle";
    if (above) return "last";
    return below ? "first" : "alone";
  });
}

export interface RowBrackets {
  footing: Bracket | undefined;
  trial: Bracket | undefined;
}

/** The brackets of every row, by its key. A trial of one rung has none. */
export function rowBrackets(rows: readonly RowView[]): Map<string, RowBrackets> {
  const footings = brackets(rows.map((row) => row.footing));
  const trials = brackets(rows.map((row) => row.trial));
  return new Map(
    rows.map((row, index) => {
      const trial = trials[index];
      return [row.key, { footing: footings[index], trial: trial === "alone" ? undefined : trial }];
    }),
  );
}
