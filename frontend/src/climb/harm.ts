/** Harm that a step names: what the agent is asked to look for, and how the answer carries it. */
import type { HazardKind, Move } from "../api/types";

export const HARM_SEEN: Record<HazardKind, string> = {
  data: "something stored was lost",
  service: "the service stopped",
  equipment: "something was damaged",
  security: "a protection was left lowered",
  injury: "somebody was hurt",
};

const NOT_CARRIED_OUT = ["could-not", "not-available", "skipped"];

/** The answer with what was said of harm; an answer that says the step was not carried out stays as it is. */
export function withHarm(move: Move, asked: HazardKind[], seen: HazardKind[]): Move {
  if (move.kind !== "answer" || asked.length === 0 || NOT_CARRIED_OUT.includes(move.outcome ?? "")) return move;
  return { ...move, harmed: seen };
}
