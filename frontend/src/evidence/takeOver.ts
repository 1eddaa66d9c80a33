/** A learned figure taken over into the draft, in place of the lead's guess. */
import type { Guess } from "../api/types";
import type { Operation } from "../draft/apply";
import type { Tree } from "../draft/tree";
import { named, set } from "../fields/operations";

/** Where a guess stands in the draft: the item and the path to its value; undefined where the draft has it no more. */
function placeOf(tree: Tree, guess: Guess): { key: string; path: string[] } | undefined {
  if (guess.what === "cause") {
    const cause = named(tree, "causes", guess.about);
    return cause && { key: cause.key, path: ["weight"] };
  }
  const step = named(tree, "steps", guess.step);
  if (!step) return undefined;
  if (guess.what === "done") return { key: step.key, path: ["done"] };
  const cause = named(tree, "causes", guess.about);
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
    const cause = guess.what === "cause" ? named(tree, "causes", guess.about) : undefined;
    const weight = Math.max(0.1, Math.round((guess.seen.mean ?? 0) * 1000) / 10);
    return cause && guess.seen.mean != null && tree.value(cause.key, ["weight"]) !== weight
      ? [set(tree, cause.key, ["weight"], weight)]
      : [];
  });
}
