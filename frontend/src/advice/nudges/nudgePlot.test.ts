import { expect, it } from "vitest";
import { allTogether, mostOf, outlineOf, savingMark } from "./nudgePlot";

it("puts each saving on one axis that ends at the most of all", () => {
  const spans = [
    { mean: 30, low: 10, high: 60 },
    { mean: 5, low: -2, high: 12 },
  ];
  expect(mostOf(spans)).toBe(60);
  expect(savingMark({ mean: 30, low: 10, high: 60 }, 60, 120)).toEqual({ dot: 60, low: 20, high: 120 });
  expect(savingMark({ mean: 5, low: -2, high: 12 }, 60, 120).low).toBe(0);
  expect(savingMark({ mean: 0, low: 0, high: 0 }, mostOf([]), 120)).toEqual({ dot: 0, low: 0, high: 0 });
});

it("draws an outline of as many rungs as there are, and of none", () => {
  expect(outlineOf([1, 0.6, 0.2], 56, 60).rungs).toHaveLength(3);
  expect(outlineOf([], 56, 60).rungs).toHaveLength(0);
});

it("adds up what is known to have come, a month, beside what the same changes promised", () => {
  const span = (mean: number) => ({ saving: { mean, low: mean - 1, high: mean + 1 } });
  const followed = [
    { a_month: 10, promised: span(6), came: span(5) },
    { a_month: 20, promised: span(2), came: span(2.5) },
    { a_month: 99, promised: span(50), came: null },
  ];
  expect(allTogether(followed)).toEqual({ promised: 100, came: 100, changes: 2 });
});
