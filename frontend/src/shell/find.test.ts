import { describe, expect, it } from "vitest";
import type { SymptomCard } from "../api/types";
import { find, settledOn } from "./find";

const card = (id: string, title: string, signs: string[], steps: string[] = []): SymptomCard => ({
  id,
  title,
  says: "",
  signs: signs.map((text) => ({ kind: "message", text })),
  facts: [],
  steps: steps.map((step) => ({ id: step, title: step })),
  edition: 1,
  draft_differs: false,
  unpublished: null,
  odd_names: null,
  held: { mean: null, low: null, high: null },
  since: null,
  cases: 0,
  minutes: 0,
  ended: {},
  resolved: { mean: null, low: null, high: null },
  forecast: {
    effort: 0,
    harm: 0,
    elapsed: 0,
    resolved: 0,
    worked_around: 0,
    handed_off: 0,
    sent_on: 0,
    rungs: [],
    side: [],
    by_cause: {},
  },
});

const DESK = [
  card("gate", "Gate stays amber", ["LAMP FAULT A-31", "A-31"]),
  card("reader", "Handheld has no list", ["LIST NOT LOADED"], ["Set the clock"]),
];

describe("find", () => {
  it("puts the exact code first", () => {
    expect(find(DESK, "a-31")[0]).toMatchObject({ because: "A-31" });
  });

  it("lets a message that is read out settle it, whatever else is said", () => {
    const [first, second] = find(DESK, "the gate stays up, the reader says list not loaded and stays so");
    expect(first?.symptom.id).toBe("reader");
    expect(second?.symptom.id).toBe("gate");
  });

  it("knows a message whatever stands where it changes, and is sure only of one that is read out whole", () => {
    const desk = [...DESK, card("arm", "Arm is up", ["ARM {arm} NOT HOME, CODE {code} SET", "{what} LOST"])];
    const settled = (said: string) => settledOn(find(desk, said))?.id;
    expect(settled("it says ARM 3 NOT HOME, CODE E-7 SET")).toBe("arm");
    expect(settled("it says arm not home, code e7 set")).toBeUndefined();
    expect(settled("the key was lost and the arm is up")).toBeUndefined();
    expect(settled("LIST NOT LOADED")).toBe("reader");
    expect(settled("list not loaded, and A-31")).toBeUndefined();
  });

  it("finds by the start of words, in any order, and says by which text", () => {
    expect(find(DESK, "loaded list")[0]?.because).toBe("LIST NOT LOADED");
    expect(find(DESK, "clo")[0]?.symptom.id).toBe("reader");
  });

  it("finds nothing for nothing, for one letter, and for what is not there", () => {
    expect(find(DESK, " ")).toEqual([]);
    expect(find(DESK, "a")).toEqual([]);
    expect(find(DESK, "scale")).toEqual([]);
  });
});
