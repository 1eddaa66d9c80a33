import { describe, expect, it } from "vitest";
import type { Move } from "../api/types";
import { withHarm } from "./harm";

const answer = (outcome: string | null): Move => ({ kind: "answer", step: "load", outcome }) as Move;

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
