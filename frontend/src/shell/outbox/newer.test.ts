import { expect, it } from "vitest";
import type { ClimbView } from "../../api/types";
import { newer } from "./newer";

const at = (number: number) => ({ number }) as ClimbView;

it("never goes back to what a case was before its last answer", () => {
  expect(newer(undefined, at(3))).toEqual(at(3));
  expect(newer(at(3), at(4))).toEqual(at(4));
  expect(newer(at(4), at(3))).toEqual(at(4));
});

it("takes the newly come of two alike", () => {
  const come = at(4);
  expect(newer(at(4), come)).toBe(come);
});
