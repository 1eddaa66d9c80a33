import { renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import type { DraftFigures, Forecast } from "../../api/types";
import { apply } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { operationsFor } from "./moves";
import { rowsOf, shownView } from "./shown";
import { useBlocks } from "./useBlocks";

const MANY = 12;
const numbers = Array.from({ length: MANY }, (_, n) => n);
const root = {
  key: ROOT,
  steps: numbers.map((n) => ({ key: `s${n}`, id: `step-${n}`, title: `Step ${n}`, kind: "fix" })),
  ladder: numbers.map((n) => ({ key: `r${n}`, step: `step-${n}` })),
} as unknown as Item;
const share = (path: string, step: string) => ({ path, step, arriving: 1, reach: 1, resolved: 0, worked_around: 0 });

/** Figures as the server answers them: everything in them is a new object each time. */
const figuresOf = (tree: Tree): DraftFigures =>
  structuredClone({
    rows: rowsOf(tree).map((row) => ({ ...row, judged: { effort: 1, eased: 0 } })),
    forecast: { rungs: rowsOf(tree).map(({ path, step }) => share(path, step ?? "")), side: [] } as unknown as Forecast,
    unit: {},
  }) as unknown as DraftFigures;

it("moves a rung and leaves every row beyond the two the very same object, before and after its figures are there", () => {
  const before = new Tree(root);
  const order = numbers.map((n) => `r${n}`);
  const [fifth, sixth] = [order[5] ?? "", order[6] ?? ""];
  order.splice(5, 2, sixth, fifth);
  let keys = 0;
  const moving = operationsFor(before, order, [fifth], () => `k${keys++}`);
  const after = apply(root, moving, { client: "c", number: 1, who: 1, at: "2026-03-01T12:00:00Z" }).tree;
  const { result, rerender } = renderHook(
    ({ view, tree }) => useBlocks(view, tree, { evidence: undefined, estimate: undefined }),
    {
      initialProps: { view: shownView(figuresOf(before), before, false), tree: before },
    },
  );
  const first = new Map(result.current.map((block) => [block.key, block]));
  rerender({ view: shownView(figuresOf(before), after, true), tree: after });
  const changed = () => result.current.filter((block) => first.get(block.key) !== block).map(({ key }) => key);
  expect(result.current.map(({ key }) => key)).toEqual(order);
  expect(changed().sort()).toEqual([fifth, sixth]);
  rerender({ view: shownView(figuresOf(after), after, false), tree: after });
  expect(changed().sort()).toEqual([fifth, sixth]);
});
