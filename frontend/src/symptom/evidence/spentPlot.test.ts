import { describe, expect, it } from "vitest";
import { spentPlot } from "./spentPlot";

const curve = (...points: [number, number][]) => points.map(([effort, ended]) => ({ effort, ended }));

describe("spentPlot", () => {
  it("draws every curve on one scale, as wide as the dearest", () => {
    const plot = spentPlot(
      { forecast: curve([0, 0], [10, 0.5]), best: curve([0, 0], [5, 0.5]), observed: curve([0, 0], [20, 1]) },
      200,
      100,
    );
    expect(plot.forecast).toBe("M0,100L100,50");
    expect(plot.best).toBe("M0,100L50,50");
    expect(plot.observed).toBe("M0,100L200,0");
    expect(plot.half).toBe(50);
  });

  it("leaves out what there is not", () => {
    const plot = spentPlot({ forecast: curve([0, 0]), best: null, observed: null }, 200, 100);
    expect([plot.best, plot.observed]).toEqual([undefined, undefined]);
  });
});
