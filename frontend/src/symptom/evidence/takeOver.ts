/** A learned figure taken over into the draft, in place of the lead's guess. */
import type { Guess } from "../../api/types";
import type { Operation } from "../../draft/apply";
import type { Tree } from "../../draft/tree";
import { itemNamed, set } from "../../editing/fields/operations";
import { fromCounts, listOf } from "../shares";

/** Where a guess stands in the draft: the item and the path to its value; undefined where the draft has it no more. */
function placeOf(tree: Tree, guess: Guess): { key: string; path: string[] } | undefined {
  if (guess.what === "cause") {
    const cause = itemNamed(tree, "causes", guess.about);
    return cause && { key: cause.key, path: ["weight"] };
  }
  const step = itemNamed(tree, "steps", guess.step);
  if (!step) return undefined;
  if (guess.what === "done") return { key: step.key, path: ["done"] };
  const cause = itemNamed(tree, "causes", guess.about);
  if (guess.what !== "ends" || !cause) return undefined;
  const holder = guess.variant == null ? step : tree.shown(step.key, ["varies"])[guess.variant];
  return holder && { key: holder.key, path: ["fixes", cause.key] };
}

/** To the nearest hundredth, and never to what no number of cases could show. */
const rounded = (share: number) => Math.min(0.99, Math.max(0.01, Math.round(share * 100) / 100));

/** What the draft says now, where it says a number. */
export function inDraft(tree: Tree, guess: Guess): number | undefined {
  const place = placeOf(tree, guess);
  const value = place && tree.value(place.key, place.path);
  return typeof value === "number" ? value : undefined;
}

export const isTakenOver = (tree: Tree, guess: Guess) =>
  guess.seen.mean != null && inDraft(tree, guess) === rounded(guess.seen.mean);

/** The edit that takes a learned figure over; nothing where it has no place in the draft. */
export function takingOver(tree: Tree, guess: Guess): Operation[] {
  const place = placeOf(tree, guess);
  if (!place || guess.seen.mean == null || guess.what === "cause") return [];
  return [set(tree, place.key, place.path, rounded(guess.seen.mean))];
}

/** The edits that share the causes as the cases do: weights as hundredths of all cases, those that the draft names. */
export function takingShares(tree: Tree, guesses: readonly Guess[]): Operation[] {
  return guesses.flatMap((guess) => {
    const cause = guess.what === "cause" ? itemNamed(tree, "causes", guess.about) : undefined;
    const weight = Math.max(0.1, Math.round((guess.seen.mean ?? 0) * 1000) / 10);
    return cause && guess.seen.mean != null && tree.value(cause.key, ["weight"]) !== weight
      ? [set(tree, cause.key, ["weight"], weight)]
      : [];
  });
}

/** The edits that share the values of facts as the cases do: in thousandths that make up the whole. A fact whose values
 * the draft has otherwise stays. */
export function takingUnits(tree: Tree, guesses: readonly Guess[]): Operation[] {
  return [...new Set(guesses.map(({ about }) => about))].flatMap((about) => {
    const fact = itemNamed(tree, "facts", about);
    const own = guesses.filter((one) => one.about === about && one.value != null);
    const shares = fromCounts(
      Object.fromEntries(own.map(({ value, seen }) => [value as string, Math.round((seen.mean ?? 0) * 100_000)])),
    );
    const list = fact && listOf(fact);
    const there = fact && list ? Object.keys((fact[list] ?? {}) as object) : [];
    if (!fact || !list || there.length !== own.length || !there.every((value) => value in shares)) return [];
    return Object.entries(shares).flatMap(([value, share]) =>
      tree.value(fact.key, [list, value]) === share ? [] : [set(tree, fact.key, [list, value], share)],
    );
  });
}
