import { describe, expect, it } from "vitest";
import { apply } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import type { QuickStep } from "./queries";
import { operationsOf, typedTitle } from "./reading";

const TEXT = "Wipe it, 5 min";
const LINE = { playbookId: "gate", text: TEXT, rung: "r1" };
const READ = { title: "Wipe it", kind: "check", effort: { hands_on: 5 }, do: ["Wipe"] } as unknown as QuickStep;
const stamp = { client: "c", number: 1, who: 1, at: "2026-03-01T12:00:00Z" };
const root = (step: object): Item =>
  ({
    key: ROOT,
    causes: [],
    steps: [{ key: "s1", kind: "fix", title: typedTitle(TEXT), ...step }],
    ladder: [{ key: "r1", step: "s1" }],
  }) as unknown as Item;

describe("a typed line that is read late", () => {
  it("says what it says upon the line as it was typed", () => {
    const begun = root({});
    const made = apply(begun, operationsOf(new Tree(begun), LINE, READ), stamp).tree;
    expect(made.item("s1")).toMatchObject({ title: "Wipe it", kind: "check", effort: { hands_on: 5 } });
    expect(made.shown("s1", ["do"]).map(({ text }) => text)).toEqual(["Wipe"]);
  });

  it("leaves alone what was changed meanwhile", () => {
    const begun = root({ title: "Wipe the lead", effort: { hands_on: 2 } });
    const made = apply(begun, operationsOf(new Tree(begun), LINE, READ), stamp).tree;
    expect(made.item("s1")).toMatchObject({ title: "Wipe the lead", kind: "check", effort: { hands_on: 2 } });
  });

  it("opens a conflict, and overwrites nothing, where another page changed the title and this one has not heard", () => {
    const operations = operationsOf(new Tree(root({})), LINE, READ);
    const theirs = root({ title: "Wipe the lead" });
    const made = apply(theirs, operations, stamp);
    expect(made.tree.item("s1").title).toBe("Wipe the lead");
    expect(made.conflicts).toHaveLength(1);
  });

  it("is nothing where its rung is gone", () => {
    const begun = { key: ROOT, causes: [], steps: [], ladder: [] } as unknown as Item;
    expect(operationsOf(new Tree(begun), LINE, READ)).toEqual([]);
  });
});
