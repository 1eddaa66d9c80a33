import { expect, it } from "vitest";
import { byLuck, luck, onClock } from "./watch";

it("knows how likely mere luck is", () => {
  expect(luck(180, 60)).toBeCloseTo(0.0498, 4);
  expect(luck(60, 60)).toBeCloseTo(0.3679, 4);
});

it("says how often a quiet stretch is mere luck", () => {
  expect(byLuck(18 * 60, 6 * 60)).toBe("5\u00a0%");
  expect(byLuck(10 * 24 * 60, 60)).toBe("<\u00a01\u00a0%");
});

it("shows minutes as a clock does", () => {
  expect([0.9, 45, 125].map(onClock)).toEqual(["0:00", "0:45", "2:05"]);
});
