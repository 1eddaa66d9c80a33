import { describe, expect, it } from "vitest";
import { effortBar, longest } from "./bars";

describe("effortBar", () => {
  it("fills the width with the longest step", () => {
    const bar = effortBar({ hands_on: 20, wait: 10, travel: 10 }, 40, 100);
    expect(bar).toEqual({ handsOn: { x: 0, width: 50 }, wait: { x: 50, width: 25 }, travel: { x: 75, width: 25 } });
  });

  it("lets a short step be seen, and shows nothing where there is nothing", () => {
    const bar = effortBar({ hands_on: 0.1, wait: 0, travel: 0 }, 500, 100);
    expect(bar.handsOn.width).toBe(2);
    expect(bar.wait.width + bar.travel.width).toBe(0);
  });

  it("has a scale for a ladder without effort", () => {
    expect(longest([])).toBe(1);
    expect(longest([{ elapsed: 3 }, { elapsed: 12 }])).toBe(12);
  });
});
