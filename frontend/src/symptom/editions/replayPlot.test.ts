import { expect, it } from "vitest";
import { sparedPlot } from "./replayPlot";

it("holds nothing on the axis, and every mean", () => {
  const plot = sparedPlot(
    [
      { mean: 10, low: 8, high: 12 },
      { mean: -2, low: -4, high: 1 },
    ],
    160,
  );
  expect(plot.nought).toBeCloseTo(40);
  expect(plot.marks[0]?.dot).toBeCloseTo(140);
  expect(plot.marks[1]?.low).toBeCloseTo(0);
});

it("lets one wide whisker end at the edge instead of pressing all others together", () => {
  const plot = sparedPlot(
    [
      { mean: 10, low: 5, high: 500 },
      { mean: 8, low: 6, high: 10 },
    ],
    100,
  );
  expect(plot.marks[0]).toMatchObject({ dot: 50, high: 100 });
});

it("has something to draw where nothing differs", () => {
  const plot = sparedPlot([{ mean: 0, low: 0, high: 0 }], 100);
  expect(Number.isFinite(plot.marks[0]?.dot)).toBe(true);
});
