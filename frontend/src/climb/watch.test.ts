import { expect, it } from "vitest";
import { lasting, luck, quietProves } from "./watch";

it("knows how likely mere luck is", () => {
  expect(luck(180, 60)).toBeCloseTo(0.0498, 4);
  expect(luck(60, 60)).toBeCloseTo(0.3679, 4);
});

it("says what a quiet stretch proves", () => {
  expect(quietProves(18 * 60, 6 * 60)).toBe("quiet for 18 hours is mere luck in 5 of 100 cases");
  expect(quietProves(10 * 24 * 60, 60)).toBe("quiet for 10 days is mere luck in fewer than 1 of 100 cases");
  expect(quietProves(1, 6000)).toBe("quiet for 1 minute is mere luck nearly always");
});

it("says lengths of time in the size that fits", () => {
  expect([1, 45, 60, 90, 120, 1440, 2000, 4320].map(lasting)).toEqual([
    "1 minute",
    "45 minutes",
    "1 hour",
    "90 minutes",
    "2 hours",
    "1 day",
    "33.3 hours",
    "3 days",
  ]);
});
