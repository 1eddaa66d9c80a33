import { describe, expect, it } from "vitest";
import { alreadyOpen } from "./openAlready";

const one = {
  id: "a",
  case: "G-1",
  title: "It is up",
  who: "R. Tamsin",
  opened: "2026-11-26T10:00:00Z",
  said: "",
  unit: "K2-1043",
  ticket: "88-2071",
  caller: "Deck host",
  at: "",
  waits: null,
  since: null,
  until: null,
  part: null,
};
const nobody = { unit: "", ticket: "", caller: "" };

describe("a case that is open already", () => {
  it.each([{ unit: "k2-1043 " }, { ticket: "88-2071" }, { caller: "deck host" }])(
    "is found by its unit, number or caller",
    (asked) => {
      expect(alreadyOpen([one], { ...nobody, ...asked })).toEqual([one]);
    },
  );

  it("is not found by nothing, nor by a part of it", () => {
    expect(alreadyOpen([{ ...one, unit: "", ticket: "", caller: "" }], nobody)).toEqual([]);
    expect(alreadyOpen([one], { ...nobody, unit: "K2" })).toEqual([]);
  });
});
