import { describe, expect, it } from "vitest";
import { difference, harmInWords, percent, plural, trimmed } from "./format";

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

describe("harm in words", () => {
  it("says how often a record would be lost", () => {
    expect(harmInWords(0.42)).toBe("That weighs as much as about one lost record in 24 cases.");
    expect(harmInWords(0)).toBe("That is next to none.");
    expect(harmInWords(12)).toBe("That is more than one lost record in every case.");
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
