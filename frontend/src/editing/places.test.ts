import { describe, expect, it } from "vitest";
import { type Item, ROOT, Tree } from "../draft/tree";
import { flawPlace, placeInWords, symptomItem } from "./places";

const tree = new Tree({
  key: ROOT,
  title: "Gate arm stays raised",
  symptom: {
    see_also: [
      { key: "a1", sign: "The lamp is amber" },
      { key: "a2", sign: "" },
    ],
  },
  causes: [{ key: "c1", title: "Hold left on" }],
  steps: [
    { key: "s1", kind: "fix", title: "Wipe it", hazards: [{ key: "h1", kind: "data" }] },
    { key: "s2", kind: "prevention" },
  ],
  after_fix: [{ key: "p1", step: "s2" }],
  ladder: [{ key: "r1", step: "s1" }],
} as unknown as Item);

describe("where something of a draft stands", () => {
  it("is what the nearest thing with a title is called, else which one of its list it is", () => {
    expect(placeInWords(tree, "h1")).toBe("Wipe it");
    expect(placeInWords(tree, "r1")).toBe("Wipe it");
    expect(placeInWords(tree, "a1")).toBe("Look-alike 1, “The lamp is amber”");
    expect(placeInWords(tree, "a2")).toBe("Look-alike 2");
    expect(placeInWords(tree, "s2")).toBe("Step 2");
    expect(placeInWords(tree, "gone")).toBe("Something that is no longer here");
  });

  it("says the field of a flaw too", () => {
    expect(flawPlace(tree, { key: "a1", field: ["playbook"] })).toBe(
      "Look-alike 1, “The lamp is amber”, the playbook that it belongs to",
    );
    expect(flawPlace(tree, { key: "c1", field: ["title"] })).toBe("Hold left on, title");
    expect(flawPlace(tree, { key: "c1", field: [] })).toBe("Hold left on");
  });

  it("is on the Symptom page for all but steps and rungs; preventions are edited there", () => {
    expect(symptomItem(tree, "a2")).toBe("a2");
    expect(symptomItem(tree, "c1")).toBe("c1");
    expect(symptomItem(tree, "p1")).toBe("p1");
    expect(symptomItem(tree, "s2")).toBe("s2");
    expect(symptomItem(tree, "h1")).toBeUndefined();
    expect(symptomItem(tree, "r1")).toBeUndefined();
    expect(symptomItem(tree, ROOT)).toBe(ROOT);
  });
});
