/** Geometry of nested counts: came up ⊃ tried ⊃ resolved ⊃ held, each a bar within the one before. */
import type { StepEvidence } from "../../api/types";

export interface NestedBar {
  cameUp: number;
  tried: number;
  resolved: number;
  held: number;
}

/** How often a step came up in the log: tried, carried out, or met with a reason why not. */
export const cameUp = (counts: StepEvidence): number =>
  counts.tried +
  counts.done +
  counts.together +
  counts.could_not +
  counts.not_available +
  counts.nothing_to_do +
  counts.skipped +
  counts.took_unknown;

/** Widths of the four bars on a scale on which `most` cases fill `width`. */
export function nestedBar(counts: StepEvidence, most: number, width: number): NestedBar {
  const length = (n: number) => (most > 0 ? (n / most) * width : 0);
  return {
    cameUp: length(cameUp(counts)),
    tried: length(counts.tried + counts.done),
    resolved: length(counts.resolved),
    held: length(counts.held),
  };
}
