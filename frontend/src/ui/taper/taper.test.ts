import { describe, expect, it } from "vitest";
import { notches, type TaperRung, taper } from "./taper";

const BOX = { width: 200, row: 48, middle: 120 };
const rung = (arriving: number, ended: number, reach = arriving): TaperRung => ({
  arriving,
  reach,
  ended,
  leaving: 0,
  side: [],
});

describe("taper", () => {
  it("stands as wide as the cases that are left", () => {
    const { rungs, foot } = taper([rung(1, 0.5), rung(0.5, 0.25)], 0.25, BOX);
    expect(rungs.map((r) => r.railRight - r.railLeft)).toEqual([200, 100]);
    expect(foot * 2).toBe(50);
  });

  it("narrows by exactly what its tabs let out", () => {
    const ladder = [rung(1, 0.3), rung(0.7, 0), rung(0.7, 0.2)];
    const drawing = taper(ladder, 0.5, BOX);
    const out = drawing.rungs.reduce((sum, r) => sum + r.tab.width, 0);
    const first = drawing.rungs[0];
    expect(first && first.railRight - first.railLeft - out).toBeCloseTo(drawing.foot * 2);
  });

  it("draws a rung under a condition narrower than the rails", () => {
    const [only] = taper([rung(1, 0.1, 0.4)], 0.9, BOX).rungs;
    expect(only && only.right - only.left).toBe(80);
    expect(only && only.railRight - only.railLeft).toBe(200);
  });

  it("gives side rails rows of their own, beside the rail, and narrows below them", () => {
    const side = [
      { reach: 0.4, ended: 0.2 },
      { reach: 0, ended: 0 },
    ];
    const drawing = taper([{ ...rung(1, 0.1), leaving: 0.05, side }, rung(0.65, 0.1)], 0.55, BOX);
    const [first, second] = drawing.rungs;
    expect(drawing.height).toBe(4 * 48);
    expect(first?.side.map(({ y }) => y)).toEqual([72, 120]);
    expect(first?.side[0]).toMatchObject({ left: 224, right: 304, tab: { x: 224, width: 40 } });
    expect(first?.off).toEqual({ x: 10, width: 10 });
    expect(second?.y).toBe(168);
  });

  it("keeps its two rails apart when nothing is left", () => {
    expect(taper([rung(1, 1)], 0, BOX).foot).toBe(1);
  });

  it("draws a ladder without rungs as straight rails", () => {
    const drawing = taper([], 1, BOX);
    expect(drawing.rungs).toEqual([]);
    expect(drawing.leftRail).toBe("M20,0L20,48");
  });

  it("grows by one row a rung, up to a thousand", () => {
    const many = Array.from({ length: 1000 }, (_, i) => rung(1 - i / 1000, 0.001));
    expect(taper(many, 0, BOX).height).toBe(48_000);
    expect(taper(many, 0, BOX).body).not.toContain("NaN");
  });
});

describe("notches", () => {
  it("cuts one a grade, around the rung", () => {
    expect(notches(0, 100, 6)).toEqual([]);
    expect(notches(1, 100, 6)).toEqual([100]);
    expect(notches(4, 100, 6)).toEqual([91, 97, 103, 109]);
  });
});
