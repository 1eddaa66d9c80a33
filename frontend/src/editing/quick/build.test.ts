import { describe, expect, it } from "vitest";
import { apply } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { causesOf, rungsFrom, saidOf, stepFrom } from "./build";
import type { QuickStep } from "./queries";

const quick = (more: Partial<QuickStep>): QuickStep => ({ title: "Wipe it", kind: "fix", ...more }) as QuickStep;
const root: Item = {
  key: ROOT,
  causes: [
    { key: "c0", id: "not-known-yet", title: "Not known yet" },
    { key: "c1", title: "Lead is bad" },
  ],
  footings: [{ key: "f1", id: "panel", title: "Panel open" }],
  steps: [],
  ladder: [{ key: "r0", step: "old" }],
} as unknown as Item;
const tree = new Tree(root);
const stamp = { client: "c", number: 1, who: 1, at: "2026-03-01T12:00:00Z" };
const after = (operations: Parameters<typeof apply>[1]) => apply(root, operations, stamp).tree;

describe("what quick words say", () => {
  it("becomes a step with what is said alone, its causes by key", () => {
    const effort = { hands_on: 5, by: "desk", wait: 0, travel: 0, parts: 0 } as const;
    const hazards = [{ kind: "data", severity: 3, chance: 0.1, eased_to: 1 }] as QuickStep["hazards"];
    const step = stepFrom(
      tree,
      quick({ effort, hazards, footing: "Panel open", ends: [{ cause: "lead is BAD", chance: "often" }] }),
      causesOf(tree),
    );
    expect(step).toEqual({
      title: "Wipe it",
      kind: "fix",
      effort: { hands_on: 5 },
      hazards: [{ kind: "data", severity: 3, chance: 0.1 }],
      fixes: { c1: "often" },
      footing: "panel",
    });
  });

  it("makes each cause once, in place of the one that stands for none", () => {
    const ends = [{ cause: "Dirt", chance: "often" as const }];
    const lines = [quick({ ends }), quick({ title: "Dry it", ends }), quick({ wrong: "no title" })];
    const made = after(rungsFrom(tree, lines, { parent: ROOT, path: ["ladder"] }));
    expect(made.shown(ROOT, ["causes"]).map(({ title }) => title)).toEqual(["Lead is bad", "Dirt"]);
    const steps = made.shown(ROOT, ["steps"]);
    expect(steps.map(({ title }) => title)).toEqual(["Wipe it", "Dry it"]);
    expect(new Set(steps.map(({ fixes }) => Object.keys(fixes as object)[0])).size).toBe(1);
    expect(made.shown(ROOT, ["ladder"]).map(({ step }) => step)).toEqual(["old", steps[0]?.key, steps[1]?.key]);
  });

  it("is put upon a step that had a title alone", () => {
    const begun = new Tree({ ...root, steps: [{ key: "s1", kind: "fix", title: "Wipe it, 5 min" }] } as Item);
    const operations = saidOf(begun, "s1", { title: "Wipe it", effort: { hands_on: 5 }, findings: [{ title: "Low" }] });
    const made = apply(begun.root, operations, stamp).tree;
    expect(made.item("s1")).toMatchObject({ title: "Wipe it", effort: { hands_on: 5 } });
    expect(made.shown("s1", ["findings"]).map(({ title }) => title)).toEqual(["Low"]);
  });
});
