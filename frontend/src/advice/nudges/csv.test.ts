import { expect, it } from "vitest";
import { csvOf } from "./csv";
import type { WhatToChange } from "./queries";

const span = (mean: number) => ({ mean, low: mean / 2, high: mean * 2 });

it("has one line a suggestion, what saves most first, and marks what a table program would take for a formula", () => {
  const nudge = (says: string, mean: number) => ({
    ...{ key: says, kind: "move", says, why: 'It "sticks", often', steps: [], saving: span(mean), people: span(mean) },
    ...{ by_person: {}, waiting: span(0), parts: span(0), harm: span(0.5), resolved_before: 0.8, resolved_after: 0.81 },
    ...{ before: [], after: [], cases: 40, ladder: null },
  });
  const found = {
    waiting: 0,
    symptoms: [{ title: "Gate", nudges: [nudge("=Put it up", 60), nudge("Leave it", 120)] }],
  } as unknown as WhatToChange;
  const lines = csvOf(found).split("\r\n");
  expect(lines).toHaveLength(4);
  expect(lines[1]).toBe('Gate,Leave it,"It ""sticks"", often",2,1,4,0,0,0.5,0.8,0.81,40');
  expect(lines[2]?.startsWith("Gate,'=Put it up,")).toBe(true);
});
