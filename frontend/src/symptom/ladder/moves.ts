/** Where a rung may go: orders of the main line by key, the rules that a move would newly break, and both at once. */

import type { Bond } from "../../api/types";
import type { Operation } from "../../draft/apply";
import { ROOT, type Tree } from "../../draft/tree";

const LADDER = ["ladder"];

export interface Held {
  says: string;
  /** Keys of the rungs that hold the moved one. */
  holders: string[];
  /** The order with both moved; undefined where that does not help. */
  both: string[] | undefined;
}

export const mainLine = (tree: Tree): string[] => tree.shown(ROOT, LADDER).map(({ key }) => key);

/** Where a rung stands after moving by so many places, kept on the ladder. */
export const placeAfter = (index: number, by: number, count: number) => Math.min(Math.max(index + by, 0), count - 1);

/** The order with one rung at another place. */
export function moved(order: readonly string[], key: string, target: number): string[] {
  const rest = order.filter((one) => one !== key);
  rest.splice(target, 0, key);
  return rest;
}

/** Why a rung may not go there; undefined where no rule that is kept now is newly broken. */
export function heldAt(
  order: readonly string[],
  bonds: readonly Bond[],
  key: string,
  target: number,
): Held | undefined {
  const after = moved(order, key, target);
  const broken = newlyBroken(order, after, bonds);
  const [first] = broken;
  if (!first) return undefined;
  const holders = [...new Set(broken.map((bond) => otherOf(bond, key, order)))];
  const both = together(after, key, target, holders, target < order.indexOf(key));
  const isMended = newlyBroken(order, both, bonds).length === 0;
  const says = `${first.says}. ${isMended ? "Move both, or leave it." : "Moving both does not mend that."}`;
  return { says, holders, both: isMended ? both : undefined };
}

/** Operations that bring the main line into an order; what need not move stays where it is. */
export function operationsFor(tree: Tree, order: readonly string[], moving: readonly string[], newKey: () => string) {
  const found: Operation[] = [];
  const line = mainLine(tree);
  for (const key of order) {
    if (!moving.includes(key)) continue;
    const at = order.indexOf(key);
    const [after, before] = [order[at - 1] ?? null, order[at + 1] ?? null];
    if (line[line.indexOf(key) - 1] === after && moving.length === 1) continue;
    const was = tree.item(key).put ?? null;
    found.push({ op: "move", key, was, parent: ROOT, list: LADDER, after, before, put: newKey() });
  }
  return found;
}

function newlyBroken(before: readonly string[], after: readonly string[], bonds: readonly Bond[]): Bond[] {
  return bonds.filter((bond) => isKept(bond, before) && !isKept(bond, after));
}

/** One of the holders must stand above; what is not on the line holds nothing. */
function isKept({ holders, below }: Bond, order: readonly string[]): boolean {
  const at = order.indexOf(below);
  return at < 0 || holders.some((holder) => order.includes(holder) && order.indexOf(holder) < at);
}

function otherOf({ holders, below }: Bond, key: string, order: readonly string[]): string {
  if (holders.includes(key)) return below;
  const at = order.indexOf(below);
  return holders.find((holder) => order.includes(holder) && order.indexOf(holder) < at) ?? below;
}

/** The order with the moved rung at its target and its holders next to it, on the side where they must stand. */
function together(
  order: readonly string[],
  key: string,
  target: number,
  holders: readonly string[],
  isUpwards: boolean,
): string[] {
  const rest = order.filter((one) => one !== key && !holders.includes(one));
  const held = order.filter((one) => holders.includes(one));
  const block = isUpwards ? [...held, key] : [key, ...held];
  const start = Math.min(isUpwards ? Math.max(target - held.length, 0) : target, rest.length);
  return [...rest.slice(0, start), ...block, ...rest.slice(start)];
}
