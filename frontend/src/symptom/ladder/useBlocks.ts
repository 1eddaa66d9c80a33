/** The rows of a ladder, each the same object as before until something in it changes: only those are drawn anew. */
import { useRef } from "react";
import type { DraftView } from "../../api/types";
import type { Tree } from "../../draft/tree";
import { type Block, blocksOf, type Measured } from "./rungs";

export function useBlocks(view: DraftView, tree: Tree, measured: Measured): Block[] {
  const known = useRef<{ view: DraftView; tree: Tree; measured: Measured; blocks: Block[] }>(undefined);
  const before = known.current;
  if (before && before.view === view && before.tree === tree && isSame(before.measured, measured)) {
    return before.blocks;
  }
  const old = new Map(before?.blocks.map((block) => [block.key, block]));
  const blocks = blocksOf(view, tree, measured).map((block) => {
    const there = old.get(block.key);
    return there && isSame(there, block) ? there : block;
  });
  known.current = { view, tree, measured, blocks };
  return blocks;
}

function isSame(one: unknown, other: unknown): boolean {
  if (Object.is(one, other)) return true;
  if (typeof one !== "object" || typeof other !== "object" || !one || !other) return false;
  const names = Object.keys(one);
  return (
    names.length === Object.keys(other).length &&
    names.every((name) => isSame(one[name as keyof typeof one], other[name as keyof typeof other]))
  );
}
