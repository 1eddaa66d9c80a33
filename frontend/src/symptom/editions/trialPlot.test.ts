import { expect, it } from "vitest";
import { trialPlot } from "./trialPlot";

it("has nothing in the middle, and the difference that is looked for on both sides of it", () => {
  const plot = trialPlot({ difference: -4, low: -9, high: 1 }, 4, 200);
  const rounded = Object.fromEntries(Object.entries(plot).map(([name, x]) => [name, Math.round(x)]));
  expect(rounded).toEqual({ nought: 100, dot: 60, low: 10, high: 110, least: 60, most: 140 });
});

it("keeps a large difference in sight, and ends a wide interval at the edge", () => {
  const plot = trialPlot({ difference: 50, low: -200, high: 300 }, 2, 200);
  expect(plot.dot).toBeLessThan(200);
  expect([plot.low, plot.high]).toEqual([0, 200]);
});
