/** The edits that lists are made of: put in, take out, move one place; and what things are called by elsewhere. */
import type { Operation } from "../../draft/apply";
import { newKey } from "../../draft/keys";
import { type Item, ROOT, type Tree } from "../../draft/tree";

export interface ListPlace {
  parent: string;
  path: readonly string[];
}

/** What a new item holds: its key is given here, and those of all that hangs on it. */
export type Blank = Record<string, unknown>;

/** An item with fresh keys, for it and for every item of its lists. */
export function keyed(blank: Blank): Item {
  const made = Object.entries(blank).map(([name, value]) => [
    name,
    Array.isArray(value) ? value.map((one) => keyed(one as Blank)) : value,
  ]);
  return { key: newKey(), ...Object.fromEntries(made) };
}

/** Put an item in behind another one in sight; undefined: at the end, null: at the head. */
export function inserted(tree: Tree, { parent, path }: ListPlace, item: Item, after?: string | null): Operation {
  const all = tree.children(parent, path).map(({ key }) => key);
  const at = after === undefined ? (all.at(-1) ?? null) : after;
  const before = all[at === null ? 0 : all.indexOf(at) + 1] ?? null;
  return { op: "insert", parent, list: path, after: at, before, item };
}

export const removed = (tree: Tree, key: string): Operation => ({ op: "remove", key, was: tree.taken(key) });

export function set(tree: Tree, key: string, path: readonly string[], value: unknown): Operation {
  return { op: "set", key, path, was: tree.value(key, path) ?? null, value };
}

/** Move an item by so many places among those in sight; undefined where it cannot go there. */
export function shifted(tree: Tree, key: string, by: number): Operation | undefined {
  const { parent, list } = tree.spot(key);
  const shown = tree.shown(parent, list).map((one) => one.key);
  const at = shown.indexOf(key);
  const to = at + by;
  if (at < 0 || to < 0 || to >= shown.length) return undefined;
  const rest = shown.filter((one) => one !== key);
  return movedTo(tree, key, { parent, path: list }, rest[to - 1] ?? null);
}

/** Move an item into a list, behind another one; null: to its head. */
export function movedTo(tree: Tree, key: string, { parent, path }: ListPlace, after: string | null): Operation {
  const all = tree.children(parent, path).map((one) => one.key);
  const rest = all.filter((one) => one !== key);
  const before = rest[after === null ? 0 : rest.indexOf(after) + 1] ?? null;
  const was = tree.item(key).put ?? null;
  return { op: "move", key, was, parent, list: path, after, before, put: newKey() };
}

/** The item of a list of the playbook that something names. */
export function itemNamed(tree: Tree, list: string, ref: unknown): Item | undefined {
  return tree
    .children(ROOT, [list])
    .find(({ key, id, name }) => ref !== undefined && (ref === id || ref === key || ref === name));
}

export const stepOf = (tree: Tree, entry: Item): Item | undefined => itemNamed(tree, "steps", entry.step);
