/** The edits by which rungs are built: a new step on a new rung, rungs into rails and out again, groups of rungs. */
import type { Operation } from "../../draft/apply";
import { newKey } from "../../draft/keys";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import {
  type Blank,
  inserted,
  keyed,
  type ListPlace,
  movedTo,
  removed,
  set,
  stepOf,
} from "../../editing/fields/operations";

export const MAIN: ListPlace = { parent: ROOT, path: ["ladder"] };

export const listPlaceOf = (tree: Tree, key: string): ListPlace => {
  const { parent, list } = tree.spot(key);
  return { parent, path: list };
};

export interface Built {
  operations: Operation[];
  rung: string;
}

/** A rung for a new step; undefined for `after`: at the end of the list. */
export function newRung(tree: Tree, step: Blank, at: ListPlace, after?: string | null): Built {
  const made = keyed({ kind: "fix", ...step });
  const rung = keyed({ step: made.key });
  return {
    operations: [inserted(tree, { parent: ROOT, path: ["steps"] }, made), inserted(tree, at, rung, after)],
    rung: rung.key,
  };
}

/** A rung for a step that the playbook has. */
export function rungFor(tree: Tree, step: string, at: ListPlace, after?: string | null): Built {
  const rung = keyed({ step });
  return { operations: [inserted(tree, at, rung, after)], rung: rung.key };
}

/** The end of a rail: a team, another playbook, or the step once more. */
export const railEnd = (tree: Tree, end: Blank, at: ListPlace): Operation => inserted(tree, at, keyed(end));

/** The rung of the same list that stands right above another one. */
export function above(tree: Tree, key: string): Item | undefined {
  const { parent, list } = tree.spot(key);
  const shown = tree.shown(parent, list);
  return shown[shown.findIndex((one) => one.key === key) - 1];
}

/** Put a rung into a rail of another one, at its end. A finding that is not there yet is made. */
export function intoRail(tree: Tree, key: string, host: string, name: string | undefined): Operation[] {
  if (name !== undefined) {
    const at = { parent: host, path: ["on", name] };
    return [movedTo(tree, key, at, tree.children(host, at.path).at(-1)?.key ?? null)];
  }
  const step = stepOf(tree, tree.item(host));
  if (!step) return [];
  const finding = keyed({ title: "Found" });
  return [
    inserted(tree, { parent: step.key, path: ["findings"] }, finding),
    movedTo(tree, key, { parent: host, path: ["on", finding.key] }, null),
  ];
}

/** Take a rung out of its rail: it stands below the rung that the rail hangs on. */
export function outOfRail(tree: Tree, key: string): Operation[] {
  const { parent } = tree.spot(key);
  if (parent === ROOT) return [];
  return [movedTo(tree, key, listPlaceOf(tree, parent), parent)];
}

/** Take rungs out, each with its step where nothing else in sight names that. */
export function takenOut(tree: Tree, keys: readonly string[]): Operation[] {
  const steps = new Set(keys.flatMap((key) => stepOf(tree, tree.item(key))?.key ?? []));
  const free = [...steps].filter((step) => !isNamed(tree, tree.item(step), keys));
  return [...keys, ...free].map((key) => removed(tree, key));
}

/** Whether anything but these rungs names a step: another rung, a list of steps, a hazard, a condition. */
function isNamed(tree: Tree, step: Item, but: readonly string[]): boolean {
  const word = new RegExp(`(?<![\\w-])(${[step.key, step.id, step.name].filter(Boolean).join("|")})(?![\\w-])`);
  for (const [key, item] of tree.items) {
    if (but.includes(key) || but.some((one) => tree.isBelow(key, one)) || !tree.inSight(key)) continue;
    if (tree.isBelow(key, step.key)) continue;
    const said = [item.step, item.text, item.eased_by, item.when];
    if (said.some((one) => typeof one === "string" && word.test(one))) return true;
  }
  return false;
}

/** Have rungs in a row share a trial, or stay together; or part them. */
export function grouped(tree: Tree, keys: readonly string[], field: "trial" | "keep", together: boolean): Operation[] {
  const group = keys.map((key) => tree.value(key, [field])).find((value) => value != null) ?? newKey();
  return keys.map((key) => set(tree, key, [field], together ? group : null));
}
