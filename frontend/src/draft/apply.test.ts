/** The cases that both twins of `apply` run. */
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { apply, type Operation, replayed, type Stamp } from "./apply";
import { alike, type Item, Tree } from "./tree";

interface Case {
  root: Item;
  edits: {
    operations: Operation[];
    stamp: Stamp;
    is_undo: boolean;
    done: Operation[];
    inverse: Operation[];
    conflicts: string[];
  }[];
  end: Item;
  sight: string[];
}

const cases: Case[] = JSON.parse(
  readFileSync(new URL("../../../tests/core/draft/twin_cases.json", import.meta.url), "utf8"),
);

const inSight = (tree: Tree) => [...tree.items.keys()].filter((key) => tree.inSight(key)).sort();

/** A tree goes on from the one before: it has to hold the very items that walking through it would find. */
function expectWhole(tree: Tree): void {
  const walked = new Tree(tree.root);
  expect([...tree.items.keys()].sort()).toEqual([...walked.items.keys()].sort());
  for (const [key, item] of walked.items) expect(tree.item(key)).toBe(item);
  expect(Object.fromEntries(tree.spots)).toEqual(Object.fromEntries(walked.spots));
}

describe("an edit", () => {
  it.each(cases.map((one, number) => [number, one] as const))("comes to what the server makes of it: %i", (_, one) => {
    let tree = new Tree(one.root);
    for (const edit of one.edits) {
      const before = JSON.stringify(tree.root);
      const made = apply(tree, edit.operations, edit.stamp, edit.is_undo);
      expect(alike(made.done, edit.done), JSON.stringify([made.done, edit.done])).toBe(true);
      expect(alike(made.inverse, edit.inverse), JSON.stringify([made.inverse, edit.inverse])).toBe(true);
      expect(made.conflicts).toEqual(edit.conflicts);
      expect(alike(replayed(tree, edit.done).root, made.tree.root)).toBe(true);
      expect(JSON.stringify(tree.root), "the tree that it began with").toBe(before);
      expectWhole(made.tree);
      tree = made.tree;
    }
    expect(alike(tree.root, one.end)).toBe(true);
    expect(inSight(tree)).toEqual(one.sight);
  });

  it("compares values as JSON", () => {
    expect(alike(4, 4.0)).toBe(true);
    expect(alike(true, 1)).toBe(false);
    expect(alike("", null)).toBe(false);
    expect(alike(undefined, null)).toBe(true);
    expect(alike({ a: 1, b: [2] }, { b: [2], a: 1 })).toBe(true);
  });
});
