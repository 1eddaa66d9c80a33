/** Of two states of one guided case, the one to show. */
import type { ClimbView } from "../../api/types";

/** A case only goes forward: what was asked for before an answer and comes after it does not bring the old state back. */
export const newer = (shown: ClimbView | undefined, come: ClimbView): ClimbView =>
  shown && shown.number > come.number ? shown : come;
