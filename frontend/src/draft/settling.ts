/** Settling a conflict: what keeps *mine*, as operations on the tree that one has before oneself. */
import type { Conflict, Operation } from "./apply";
import type { Tree } from "./tree";

/** What was wished set, put back or done anew, and the conflict taken away. */
export function keptMine(tree: Tree, conflict: Conflict): Operation[] {
  const { item, path, mine, why } = conflict;
  const settle = settled(tree, conflict);
  if (why === "taken out") return [...bringBack(tree, item, path), settle];
  if (why === "changed" && path.length > 0 && tree.items.has(item)) {
    const there = tree.value(item, path) ?? null;
    return [{ op: "set", key: item, path, was: there, value: mine ?? null }, settle];
  }
  return [...anew(tree, mine as Operation), settle];
}

/** The conflict taken away, as it is seen. */
export const settled = (tree: Tree, { key }: Conflict): Operation => ({ op: "remove", key, was: tree.taken(key) });

/** What is out above an item, or what a field is named after, put back. */
function bringBack(tree: Tree, item: string, path: readonly string[]): Operation[] {
  const found: Operation[] = [];
  const waiting = [item, ...path];
  const seen = new Set<string>();
  for (let key = waiting.pop(); key !== undefined; key = waiting.pop()) {
    const there = tree.items.get(key);
    if (!there || seen.has(key)) continue;
    seen.add(key);
    if (there.out) found.unshift({ op: "restore", key });
    const spot = tree.spots.get(key);
    if (spot) waiting.push(spot.parent, ...spot.list);
  }
  return found;
}

/** A wish once more, on what there is now. */
function anew(tree: Tree, wish: Operation): Operation[] {
  if (wish.op === "remove" && tree.items.has(wish.key)) return [{ ...wish, was: tree.taken(wish.key) }];
  if (wish.op === "move" && tree.items.has(wish.key)) return [{ ...wish, was: tree.item(wish.key).put ?? null }];
  return [];
}
