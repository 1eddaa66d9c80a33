/** What review and flaws have to say of each row of a ladder. */
import { useMemo, useRef } from "react";
import type { Flaw } from "../../draft/state";
import type { Tree } from "../../draft/tree";
import { flawPlace, symptomItem } from "../../editing/places";
import type { FlawAt } from "../review/ReviewStrip";
import { levelsByRow } from "../review/words";
import type { Block, RungRowData } from "./rungs";
import type { useLadder } from "./useLadder";

type LadderState = ReturnType<typeof useLadder>;
type Marks = ReturnType<typeof levelsByRow>;

/** Whether a flaw is in a rung, or in its step. */
export const isOf = ({ key }: Flaw, { key: rung, item }: RungRowData, tree: Tree): boolean =>
  tree.items.has(key) && (key === rung || (item.key !== "" && tree.isBelow(key, item.key)));

/** The gravest thing that review has to say of each row, by its key. Until it has been told of a new state, what it said
 * of the state before stands: marks that go and come again at each rest in the typing tell nobody anything. */
export function useLevels(review: LadderState["review"], keys: Record<string, string>): Marks {
  const last = useRef<Marks>(new Map());
  return useMemo(() => {
    if (review) last.current = new Map([...levelsByRow(review)].map(([path, level]) => [keys[path] ?? "", level]));
    return last.current;
  }, [review, keys]);
}

export const flawsAt = (blocks: readonly Block[], flaws: readonly Flaw[], tree: Tree): FlawAt[] => {
  const rows = blocks.flatMap((block) => [block, ...block.side]);
  return flaws.map((flaw) => ({
    place: flawPlace(tree, flaw),
    says: flaw.says,
    onSymptom: symptomItem(tree, flaw.key),
    row: rows.find((row) => row.step && isOf(flaw, row, tree))?.key,
  }));
};

/** The mark of each row; a flaw is as grave as a blocker. */
export function marksOf(blocks: readonly Block[], levels: Marks, flaws: readonly Flaw[], tree: Tree): Marks {
  if (flaws.length === 0) return levels;
  const marks = new Map(levels);
  for (const block of blocks) {
    for (const row of [block, ...block.side]) {
      if (row.step && flaws.some((flaw) => isOf(flaw, row, tree))) marks.set(row.key, "blocker");
    }
  }
  return marks;
}
