import { describe, expect, it } from "vitest";
import type { Guess } from "../../api/types";
import { apply } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { inDraft, isTakenOver, takingOver, takingShares, takingUnits } from "./takeOver";

const root = {
  key: ROOT,
  causes: [
    { key: "c1", id: "lead-bad", title: "Lead is bad", weight: 3 },
    { key: "c2", title: "Not named yet" },
  ],
  facts: [{ key: "f1", id: "model", ask: "Model", type: "choice", choices: { GR4: 0.6, GR6: 0.4 } }],
  steps: [
    { key: "s1", id: "wipe", title: "Wipe", fixes: { c1: "often" }, varies: [{ key: "v1", fixes: { c1: 0.2 } }] },
  ],
  ladder: [],
} as unknown as Item;
const stamp = { client: "c", number: 1, who: 1, at: "2026-03-01T12:00:00Z" };
const guess = (more: Partial<Guess>): Guess => ({
  what: "ends",
  step: "wipe",
  variant: null,
  about: "lead-bad",
  says: "ends Lead is bad",
  judged: 0.6,
  seen: { mean: 0.4567, low: 0.4, high: 0.5 },
  learned: 0.9,
  is_contradicted: true,
  ...more,
});
const taken = (one: Guess) => apply(root, takingOver(new Tree(root), one), stamp).tree;

describe("a learned figure", () => {
  it("stands in place of the guess, in hundredths", () => {
    const tree = taken(guess({}));
    expect(tree.value("s1", ["fixes", "c1"])).toBe(0.46);
    expect(isTakenOver(tree, guess({}))).toBe(true);
    expect(isTakenOver(new Tree(root), guess({}))).toBe(false);
  });

  it("goes to the variant that it was learned of, and leaves the step's own", () => {
    const tree = taken(guess({ variant: 0 }));
    expect([tree.value("v1", ["fixes", "c1"]), tree.value("s1", ["fixes", "c1"])]).toEqual([0.46, "often"]);
  });

  it("says whether a step can be carried out, and never that it always can", () => {
    const seen = { mean: 0.999, low: 0.99, high: 1 };
    expect(inDraft(taken(guess({ what: "done", about: null, seen })), guess({ what: "done", about: null }))).toBe(0.99);
  });

  it("has no place where the draft has the step no more", () => {
    expect(takingOver(new Tree(root), guess({ step: "gone" }))).toEqual([]);
  });

  it("shares the causes that the draft names", () => {
    const shares = [guess({ what: "cause", step: null, seen: { mean: 0.3333, low: 0.3, high: 0.4 } })];
    const tree = apply(root, takingShares(new Tree(root), shares), stamp).tree;
    expect(tree.value("c1", ["weight"])).toBe(33.3);
  });

  it("shares the units as the cases do, the whole of them, where the draft asks the same", () => {
    const unit = (value: string, mean: number) =>
      guess({ what: "unit", step: null, about: "model", value, seen: { mean, low: mean, high: mean } });
    const shares = [unit("GR4", 0.2501), unit("GR6", 0.7499)];
    const tree = apply(root, takingUnits(new Tree(root), shares), stamp).tree;
    expect(tree.value("f1", ["choices"])).toEqual({ GR4: 0.25, GR6: 0.75 });
    expect(takingUnits(tree, shares)).toEqual([]);
    expect(takingUnits(new Tree(root), [unit("GR4", 1)])).toEqual([]);
  });
});
