/** From what quick words say to the edits of a draft: steps with their rungs, and causes that nobody had named yet. */

import type { Operation } from "../../draft/apply";
import { refOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import { type Blank, inserted, keyed, type ListPlace, removed, set } from "../fields/operations";
import type { QuickStep } from "./queries";

const CAUSES: ListPlace = { parent: ROOT, path: ["causes"] };
/** What a playbook begins with, until somebody names a cause. */
const NOT_KNOWN = "not-known-yet";

/** Causes of one edit, by title: those that are there, and those that it makes. */
export interface Causes {
  keyOf: (title: string) => string;
  operations: Operation[];
}

const plain = (title: unknown) =>
  String(title ?? "")
    .trim()
    .toLowerCase();

export function causesOf(tree: Tree): Causes {
  const there = tree.shown(ROOT, ["causes"]);
  const known = new Map(there.map((one) => [plain(one.title), one.key]));
  const operations: Operation[] = [];
  let last = tree.children(ROOT, ["causes"]).at(-1)?.key ?? null;
  const keyOf = (title: string) => {
    const found = known.get(plain(title));
    if (found) return found;
    const made = keyed({ title, layer: "hardware" });
    operations.push(inserted(tree, CAUSES, made, last));
    const begun = there.find((one) => one.id === NOT_KNOWN);
    if (begun && operations.length === 1 && !isEnded(tree, begun)) operations.push(removed(tree, begun.key));
    last = made.key;
    known.set(plain(title), made.key);
    return made.key;
  };
  return { keyOf, operations };
}

const isEnded = (tree: Tree, cause: Item) =>
  tree.shown(ROOT, ["steps"]).some((step) => tree.value(step.key, ["fixes", cause.key]) != null);

/** A step as the draft holds it. */
export function stepFrom(tree: Tree, quick: QuickStep, causes: Causes): Blank {
  const { title, kind, effort = {}, hazards = [], ends = [], finds = [], do: doing = [], footing, done } = quick;
  const said = Object.entries(effort).filter(([name, value]) => value !== 0 && !(name === "by" && value === "desk"));
  const state = tree.shown(ROOT, ["footings"]).find((one) => one.title === footing);
  const blank: Record<string, unknown> = {
    title,
    kind,
    effort: Object.fromEntries(said),
    fixes: Object.fromEntries(ends.map(({ cause, chance }) => [causes.keyOf(cause), chance])),
    hazards: hazards.map(({ kind, severity, chance }) => ({ kind, severity, chance })),
    findings: finds.map((finding) => ({ title: finding, given: { "*": 0.5 } })),
    do: doing.map((text) => ({ text })),
    footing: state && refOf(state),
    done,
  };
  return Object.fromEntries(Object.entries(blank).filter(([, value]) => !isEmpty(value)));
}

const isEmpty = (value: unknown) =>
  value == null || (typeof value === "object" && Object.keys(value as object).length === 0);

/** The same, put upon a step that is there with nothing but a title. */
export function saidOf(tree: Tree, key: string, blank: Blank): Operation[] {
  return Object.entries(blank).flatMap(([name, value]) => {
    if (Array.isArray(value)) {
      const made = (value as Blank[]).map(keyed);
      return made.map((one, at) => inserted(tree, { parent: key, path: [name] }, one, made[at - 1]?.key ?? null));
    }
    if (typeof value === "object" && value !== null) {
      return Object.entries(value).map(([inner, one]) => set(tree, key, [name, inner], one));
    }
    return [set(tree, key, [name], value)];
  });
}

/** Every line as a rung of its own, one below the other; those of which nothing can be made are left out. */
export function rungsFrom(tree: Tree, lines: readonly QuickStep[], at: ListPlace, after?: string | null): Operation[] {
  const causes = causesOf(tree);
  const made = lines.filter(({ wrong }) => !wrong).map((line) => keyed(stepFrom(tree, line, causes)));
  const rungs = made.map((step) => keyed({ step: step.key }));
  const lastStep = tree.children(ROOT, ["steps"]).at(-1)?.key ?? null;
  const lastRung = after === undefined ? (tree.children(at.parent, at.path).at(-1)?.key ?? null) : after;
  return [
    ...causes.operations,
    ...made.map((step, n) => inserted(tree, { parent: ROOT, path: ["steps"] }, step, made[n - 1]?.key ?? lastStep)),
    ...rungs.map((rung, n) => inserted(tree, at, rung, rungs[n - 1]?.key ?? lastRung)),
  ];
}
