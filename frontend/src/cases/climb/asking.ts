/** Where in a step a value is asked: at the first instruction that waits for it. */
import type { FilledInstruction } from "../../api/types";

const waitsFor = (instruction: FilledInstruction, id: string): boolean =>
  Boolean(instruction.asks?.includes(id)) ||
  Boolean(instruction.ways?.some((way) => way.do.some((inner) => waitsFor(inner, id))));

/** The first instruction, over lists in the order in which they are shown, that waits for it; undefined: another text
 * of the step does. */
export const firstAsking = (
  lists: readonly (readonly FilledInstruction[])[],
  id: string,
): FilledInstruction | undefined => lists.flat().find((instruction) => waitsFor(instruction, id));
