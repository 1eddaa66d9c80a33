import { expect, test } from "vitest";
import type { Step } from "../../api/types";
import { findingOf } from "./reading";

const step = {
  id: "read",
  title: "Read the pressure",
  kind: "check",
  reading: { unit: "bar", bands: [{ below: 2, finding: "low" }, { below: 4, finding: "good" }, { finding: "high" }] },
  findings: [
    { id: "low", title: "Too low" },
    { id: "good", title: "As it should be" },
    { id: "high", title: "Too high" },
  ],
} as unknown as Step;

test.each([
  [1.9, "Too low"],
  [2, "As it should be"],
  [3.99, "As it should be"],
  [4, "Too high"],
])("a reading of %d stands for the band below which it lies", (value, title) => {
  expect(findingOf(step, value)?.title).toBe(title);
});

test("a step without bands finds nothing by a number", () => {
  expect(findingOf({ ...step, reading: null } as unknown as Step, 3)).toBeUndefined();
});
