import { describe, expect, it } from "vitest";
import { curvePlot } from "./curvePlot";

const BOX = { width: 400, height: 120, margin: { left: 40, right: 10, top: 10, bottom: 20 } };

describe("curvePlot", () => {
  const quick = { effort: 10, harm: 2 };
  const mild = { effort: 20, harm: 1 };
  const draft = { effort: 25, harm: 3 };

  it("places quicker to the left and milder below", () => {
    const [a, b, c] = curvePlot([quick, mild], [draft], BOX).placed;
    expect(a?.x).toBeLessThan(b?.x ?? 0);
    expect(a?.y).toBeLessThan(b?.y ?? 0);
    expect(c?.x).toBeGreaterThan(b?.x ?? 0);
    expect(c?.y).toBeLessThan(a?.y ?? 0);
  });

  it("keeps every point inside its margins", () => {
    for (const { x, y } of curvePlot([quick, mild], [draft], BOX).placed) {
      expect(x).toBeGreaterThanOrEqual(40);
      expect(x).toBeLessThanOrEqual(390);
      expect(y).toBeGreaterThanOrEqual(10);
      expect(y).toBeLessThanOrEqual(100);
    }
  });

  it("joins the corners alone", () => {
    expect(curvePlot([quick, mild], [draft], BOX).curve.split("L")).toHaveLength(2);
  });

  it("gives one order room of its own", () => {
    const { placed } = curvePlot([quick], [quick], BOX);
    expect(placed.every(({ x, y }) => Number.isFinite(x) && Number.isFinite(y))).toBe(true);
  });
});
