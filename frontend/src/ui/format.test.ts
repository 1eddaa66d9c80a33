import { describe, expect, it } from "vitest";
import { difference, lessOrMore, moreOrLess, percent, plural, rangeInWords, tenths, trimmed } from "./format";

const plain = (text: string) => text.replaceAll("\u00a0", " ");

describe("percent", () => {
  it("never rounds a real share to none or all", () => {
    expect(plain(percent(0))).toBe("0 %");
    expect(plain(percent(0.001))).toBe("< 1 %");
    expect(plain(percent(0.999))).toBe("> 99 %");
    expect(plain(percent(1))).toBe("100 %");
    expect(plain(percent(1 - 1e-15))).toBe("100 %");
    expect(plain(percent(1e-16))).toBe("0 %");
    expect(plain(percent(0.345))).toBe("35 %");
  });
});

describe("difference", () => {
  it("says what matters, and which way", () => {
    expect(difference(0.3, 0.05, String, "min")).toBe("0.3 min more");
    expect(difference(-2, 0.05, String)).toBe("2 less");
    expect(difference(0.04, 0.05, String, "min")).toBe("same min");
  });
});

describe("a difference with its interval", () => {
  const said = (mean: number, low: number, high: number) => moreOrLess({ mean, low, high }, 0.05, tenths);
  it("is said with one sign, in words", () => {
    expect(said(2, 0.4, 3.1)).toBe("2.0 more (0.4 to 3.1 more)");
    expect(said(-2, -3.1, -0.4)).toBe("2.0 less (0.4 to 3.1 less)");
    expect(lessOrMore({ mean: 2, low: 0.4, high: 3.1 }, 0.05, tenths)).toBe("2.0 less (0.4 to 3.1 less)");
  });

  it("is no clear one where both signs are possible, and none where it is too small to matter", () => {
    expect(said(-0.1, -1.3, 0.2)).toBe("no clear difference (1.3 less to 0.2 more)");
    expect(said(0.01, -0.02, 0.04)).toBe("no difference");
    expect(rangeInWords({ mean: 0, low: -1.3, high: 0.01 }, 0.05, tenths)).toBe("1.3 less to same");
  });

  it.each([
    [-1, -2, 1],
    [1, 0.5, 2],
    [-0.001, -0.3, 0.2],
  ])("never shows a minus: %d (%d to %d)", (mean, low, high) => {
    expect(said(mean, low, high)).not.toMatch(/[-−]/);
  });
});

describe("plain figures", () => {
  it("shows a decimal only where there is one", () => {
    expect(trimmed(3)).toBe("3");
    expect(trimmed(3.25)).toBe("3.3");
    expect(trimmed(123.4)).toBe("123");
  });

  it("counts one and many", () => {
    expect(plain(plural(1, "case"))).toBe("1 case");
    expect(plain(plural(0, "case"))).toBe("0 cases");
    expect(plain(plural(2, "try", "tries"))).toBe("2 tries");
  });
});
