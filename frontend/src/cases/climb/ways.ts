/** Of what can be done in several ways, those that worked: marked at the instruction, told with the answer. */
import { createContext } from "react";
import type { FilledInstruction, Move } from "../../api/types";

export interface WaysThatWorked {
  worked: readonly string[];
  toggle: (words: string) => void;
}

/** Where a way can be marked; undefined: here it cannot. */
export const WaysContext = createContext<WaysThatWorked | undefined>(undefined);

/** The words of every way among these instructions, in order. */
export const waysIn = (instructions: readonly FilledInstruction[]): string[] =>
  instructions.flatMap((one) => (one.ways ?? []).flatMap((way) => [way.words, ...waysIn(way.do)]));

/** The answer with those that worked, of what was carried out; where none was marked, nothing is said. */
export function withWays(move: Move, isDone: boolean, worked: readonly string[]): Move {
  return move.kind === "answer" && isDone && worked.length > 0 ? { ...move, ways: [...worked] } : move;
}
