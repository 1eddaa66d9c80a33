import { describe, expect, it } from "vitest";
import type { ClimbView, Move } from "../api/types";
import { harmsToAsk, withHarm } from "./harm";

const hazards = [
  { kind: "service", severity: 2, chance: 0.2 },
  { kind: "data", severity: 4, chance: 0.1 },
  { kind: "data", severity: 1, chance: 0.3 },
];
const at = (place: string, named: unknown[] = hazards) =>
  ({ place, current: { step: { hazards: named } } }) as unknown as ClimbView;
const answer = (outcome: string | null): Move => ({ kind: "answer", step: "load", outcome }) as Move;

describe("what harm is asked about", () => {
  it("is each kind that the step names, the worst first", () => {
    expect(harmsToAsk(at("step"))).toEqual(["data", "service"]);
  });
  it("is nothing where nothing is carried out, or no hazard is named", () => {
    expect(harmsToAsk(at("guard"))).toEqual([]);
    expect(harmsToAsk(at("step", []))).toEqual([]);
    expect(harmsToAsk({ place: "hand-off", current: null } as unknown as ClimbView)).toEqual([]);
  });
});

describe("an answer", () => {
  it("says what was seen, none included", () => {
    expect(withHarm(answer("fixed"), ["data"], ["data"])).toMatchObject({ outcome: "fixed", harmed: ["data"] });
    expect(withHarm(answer("no-change"), ["data"], [])).toMatchObject({ harmed: [] });
    expect(withHarm(answer(null), ["data"], [])).toMatchObject({ harmed: [] });
  });
  it("stays as it is where nothing was asked or nothing was carried out", () => {
    expect(withHarm(answer("fixed"), [], [])).not.toHaveProperty("harmed");
    for (const outcome of ["could-not", "not-available", "skipped"])
      expect(withHarm(answer(outcome), ["data"], ["data"])).not.toHaveProperty("harmed");
    expect(withHarm({ kind: "take-back" }, ["data"], ["data"])).toEqual({ kind: "take-back" });
  });
});
