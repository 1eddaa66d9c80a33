import { expect, it } from "vitest";
import type { HarmAsked, Move } from "../../api/types";
import { withHarm } from "./harm";

const asked: HarmAsked[] = [
  { kind: "service", says: "the service stopped", copy_from: null },
  { kind: "data", says: "something stored was lost", copy_from: { id: "save", title: "Save the counts" } },
];
const fixed: Move = { kind: "answer", step: "load-program", outcome: "fixed" };

it("carries what was seen, also that it was nothing", () => {
  expect(withHarm(fixed, asked, ["data"])).toMatchObject({ outcome: "fixed", harmed: ["data"] });
  expect(withHarm(fixed, asked, [])).toMatchObject({ harmed: [] });
});

it("says how good the copy was, where the harm that was marked is one that it was made for", () => {
  const copy = { safeguard_used: "save", put_right: "partly" };
  expect(withHarm(fixed, asked, ["data"], "partly")).toMatchObject(copy);
  expect(withHarm(fixed, asked, ["service"], "partly")).not.toHaveProperty("safeguard_used");
  expect(withHarm(fixed, asked, [], "partly")).not.toHaveProperty("put_right");
});

it("says nothing of harm where nothing is asked", () => {
  expect(withHarm(fixed, [], ["data"])).not.toHaveProperty("harmed");
  expect(withHarm({ kind: "take-back" }, asked, ["data"])).toEqual({ kind: "take-back" });
});
