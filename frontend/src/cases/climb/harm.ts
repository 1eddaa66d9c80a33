/** Harm that a step names: how an answer carries what was seen of it. */
import type { HarmAsked, HazardKind, Move } from "../../api/types";

/** How much could be put right from a safeguard's copy. */
export type PutRight = NonNullable<Extract<Move, { kind: "answer" }>["put_right"]>;

/** The answer with what was said of harm, and of the copy that it made needed; nothing is said where nothing is asked. */
export function withHarm(move: Move, asked: readonly HarmAsked[], seen: HazardKind[], putRight?: PutRight): Move {
  if (move.kind !== "answer" || asked.length === 0) return move;
  const copy = copyNeeded(asked, seen)?.id;
  return { ...move, harmed: seen, ...(copy && putRight && { safeguard_used: copy, put_right: putRight }) };
}

/** The safeguard whose copy the harm that was marked makes needed. */
export const copyNeeded = (asked: readonly HarmAsked[], seen: readonly HazardKind[]) =>
  asked.find(({ kind, copy_from }) => copy_from && seen.includes(kind))?.copy_from ?? undefined;
