import { expect, it } from "vitest";
import type { Move } from "../../api/types";
import { withHarm } from "./harm";

const fixed: Move = { kind: "answer", step: "load-program", outcome: "fixed" };

it("carries what was seen, also that it was nothing", () => {
  expect(withHarm(fixed, true, ["data"])).toMatchObject({ outcome: "fixed", harmed: ["data"] });
  expect(withHarm(fixed, true, [])).toMatchObject({ harmed: [] });
});

it("says nothing of harm where nothing is asked", () => {
  expect(withHarm(fixed, false, ["data"])).not.toHaveProperty("harmed");
  expect(withHarm({ kind: "take-back" }, true, ["data"])).toEqual({ kind: "take-back" });
});
