import { describe, expect, it } from "vitest";
import { apply, type Operation } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { grouped, intoRail, MAIN, newRung, outOfRail, takenOut } from "./building";
import { rowsOf } from "./shown";

const root = {
  key: ROOT,
  steps: [
    { key: "s1", id: "look", title: "Look", kind: "check", findings: [{ key: "f1", id: "low", title: "Reads low" }] },
    { key: "s2", id: "wipe", title: "Wipe", kind: "fix" },
    { key: "s3", id: "save", title: "Save", kind: "safeguard" },
    { key: "s4", id: "load", title: "Load", kind: "fix", hazards: [{ key: "h1", kind: "data", eased_by: "save" }] },
  ],
  ladder: [
    { key: "r1", step: "look" },
    { key: "r2", step: "wipe" },
    { key: "r3", step: "save" },
    { key: "r4", step: "load" },
  ],
} as unknown as Item;
const stamp = { client: "c", number: 1, who: 1, at: "2026-03-01T12:00:00Z" };
const treeAfter = (operations: readonly Operation[], from: Item = root) => apply(from, operations, stamp).tree;
const rows = (tree: Tree) => rowsOf(tree).map(({ label, says, via }) => [label, says, via]);

describe("rungs that are built", () => {
  it("are rows in the order of the working form, rails below what they hang on", () => {
    const made = treeAfter(intoRail(new Tree(root), "r2", "r1", "f1"));
    expect(rows(made)).toEqual([
      ["1", "Look", null],
      ["1a", "Wipe", "Reads low"],
      ["2", "Save", null],
      ["3", "Load", null],
    ]);
    expect(rowsOf(made)[1]?.path).toBe("ladder.0.on.low.0");
    const out = treeAfter(outOfRail(made, "r2"), made.root);
    expect(rows(out).map(([, says]) => says)).toEqual(["Look", "Wipe", "Save", "Load"]);
  });

  it("go into a rail of a finding that is made where there is none", () => {
    const made = treeAfter(intoRail(new Tree(root), "r3", "r2", undefined));
    expect(rows(made)[2]).toEqual(["2a", "Save", "Found"]);
  });

  it("come with their step, below another one", () => {
    const built = newRung(new Tree(root), { title: "Dry" }, MAIN, "r1");
    const made = treeAfter(built.operations);
    expect(rows(made).map(([, says]) => says)).toEqual(["Look", "Dry", "Wipe", "Save", "Load"]);
    expect(rowsOf(made)[1]?.key).toBe(built.rung);
  });

  it("take their step with them, unless something else names it", () => {
    const tree = new Tree(root);
    expect(treeAfter(takenOut(tree, ["r2"])).inSight("s2")).toBe(false);
    const kept = treeAfter(takenOut(tree, ["r3"]));
    expect([kept.inSight("r3"), kept.inSight("s3")]).toEqual([false, true]);
  });

  it("share a trial, and part again", () => {
    const made = treeAfter(grouped(new Tree(root), ["r1", "r2"], "trial", true));
    expect(made.value("r1", ["trial"])).toBe(made.value("r2", ["trial"]));
    const parted = treeAfter(grouped(made, ["r2"], "trial", false), made.root);
    expect(parted.value("r2", ["trial"])).toBeUndefined();
  });
});
