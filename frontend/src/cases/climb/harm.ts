/** Harm that a step names: how an answer carries what was seen of it. */
import type { HazardKind, Move } from "../../api/types";

/** The answer with what was said of harm; nothing is said where nothing is asked. */
export function withHarm(move: Move, isAsked: boolean, seen: HazardKind[]): Move {
  return move.kind === "answer" && isAsked ? { ...move, harmed: seen } : move;
}
