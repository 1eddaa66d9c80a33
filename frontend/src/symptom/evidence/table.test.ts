import { describe, expect, it } from "vitest";
import type { EvidenceRow } from "../../api/types";
import { asCsv } from "./table";

const SAYS = "all 40 cases, estimated without those brought in";
const NONE = { mean: null, low: null, high: null };
const row = (title: string): EvidenceRow => ({
  step: "wipe",
  title,
  kind: "fix",
  label: "2",
  counts: {
    step: "wipe",
    tried: 40,
    resolved: 20,
    judged: 18,
    held: 15,
    together: 0,
    found: 0,
    done: 0,
    could_not: 8,
    not_available: 0,
    nothing_to_do: 0,
    skipped: 0,
    took_unknown: 0,
    raw: { mean: 0.5, low: 0.35, high: 0.65 },
    holding: NONE,
  },
  harms: [],
  copy_use: null,
  minutes: null,
  months: [],
});

describe("asCsv", () => {
  it("has one line a step, quotes what needs it, and lets no title become a formula", () => {
    const [head, first, second] = asCsv([row('Wipe, then "dry"'), row("=1+1")], new Map(), SAYS).split("\r\n");
    expect(head?.split(",").slice(0, 5)).toEqual(["rung", "step", "kind", "came up", "tried"]);
    expect(first).toMatch(/^2,"Wipe, then ""dry""",fix,48,40,20,18,15,0\.5000,0\.3500,0\.6500,,,/);
    expect(second).toMatch(/^2,'=1\+1,fix/);
    expect(head?.endsWith(",of") && first?.endsWith(`,"${SAYS}"`)).toBe(true);
  });
});
