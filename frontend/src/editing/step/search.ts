/** What makes a step a search, and what a search that is a check may find. */
import type { Operation } from "../../draft/apply";
import type { Item, Tree } from "../../draft/tree";
import { inserted, keyed, removed } from "../fields/operations";

/** A search that is a check finds one of two things, which every program knows by these ids. */
const FINDS = [
  { id: "found", title: "One is bad" },
  { id: "none", title: "All are good" },
] as const;

const BEGUN = { over: "parts", count: 2, how: "one-by-one" };

/** Make a step a search; a check then has its two findings, which keep the titles of the first two that it had. */
export function searchBegun(tree: Tree, step: Item): Operation[] {
  const operations: Operation[] = [{ op: "set", key: step.key, path: ["search"], was: null, value: BEGUN }];
  if (step.kind !== "check") return operations;
  const had = tree.shown(step.key, ["findings"]);
  if (FINDS.every(({ id }) => had.some((one) => one.id === id))) return operations;
  const made = FINDS.map(({ id, title }, n) => ({
    ...keyed({ title: had[n]?.title ?? title, given: had[n]?.given ?? { "*": 0.5 } }),
    id,
  }));
  const last = tree.children(step.key, ["findings"]).at(-1)?.key ?? null;
  return [
    ...operations,
    ...made.map((one, n) => inserted(tree, { parent: step.key, path: ["findings"] }, one, made[n - 1]?.key ?? last)),
    ...had.map((one) => removed(tree, one.key)),
  ];
}
