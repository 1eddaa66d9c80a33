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

const inSight = (root: Item) => {
  const tree = new Tree(root);
  return [...tree.items.keys()].filter((key) => tree.inSight(key)).sort();
};

describe("an edit", () => {
  it.each(cases.map((one, number) => [number, one] as const))("comes to what the server makes of it: %i", (_, one) => {
    let root = one.root;
    for (const edit of one.edits) {
      const before = JSON.stringify(root);
      const made = apply(root, edit.operations, edit.stamp, edit.is_undo);
      expect(alike(made.done, edit.done), JSON.stringify([made.done, edit.done])).toBe(true);
      expect(alike(made.inverse, edit.inverse), JSON.stringify([made.inverse, edit.inverse])).toBe(true);
      expect(made.conflicts).toEqual(edit.conflicts);
      expect(alike(replayed(root, edit.done), made.root)).toBe(true);
      expect(JSON.stringify(root), "the tree that it began with").toBe(before);
      root = made.root;
    }
    expect(alike(root, one.end)).toBe(true);
    expect(inSight(root)).toEqual(one.sight);
  });

  it("compares values as JSON", () => {
    expect(alike(4, 4.0)).toBe(true);
    expect(alike(true, 1)).toBe(false);
    expect(alike("", null)).toBe(false);
    expect(alike(undefined, null)).toBe(true);
    expect(alike({ a: 1, b: [2] }, { b: [2], a: 1 })).toBe(true);
  });
});
