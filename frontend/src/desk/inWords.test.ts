import { describe, expect, it } from "vitest";
import { changed, dueBy, oddNames, spares } from "./inWords";

const NOW = new Date(2026, 2, 14, 11, 0);
const at = (day: number, hour: number) => new Date(2026, 2, day, hour).toISOString();

describe("what is due", () => {
  it("is what is over by the end of the day, the longest overdue first", () => {
    const cases = [
      { id: "tonight", until: at(14, 23) },
      { id: "tomorrow", until: at(15, 0) },
      { id: "open", until: null },
      { id: "yesterday", until: at(13, 9) },
    ];
    expect(dueBy(cases, NOW).map(({ id }) => id)).toEqual(["yesterday", "tonight"]);
  });
});

it("says what a draft spares, and what it costs", () => {
  expect([spares(0.84), spares(-2), spares(0.01)]).toEqual([
    "0.8 min less a case",
    "2.0 min more a case",
    "the same effort",
  ]);
});

it("says what an edition changed in points, a fall by a true minus", () => {
  const rate = (mean: number) => ({ mean, low: 0, high: 1 });
  const by = (now: number, then: number) => changed({ edition: 3, cases: 40, resolved: rate(now), before: rate(then) });
  expect([by(0.83, 0.8), by(0.8, 0.83), by(0.8, 0.801)]).toEqual([
    "+3 by edition 3",
    "−3 by edition 3",
    "±0 by edition 3",
  ]);
});

describe("oddNames", () => {
  const odd = (names: number, attempts: number, most: string, most_attempts: number) => ({
    names, attempts, most, most_attempts,
  }); // biome-ignore format: as it is counted

  it("adds up all symptoms and leads to the one with most to decide", () => {
    const found = oddNames([
      { id: "gate", odd_names: odd(2, 30, "arm reset", 20) },
      { id: "lamp", odd_names: null },
      { id: "board", odd_names: odd(9, 40, "feed new", 12) },
    ]);
    expect(found).toEqual({ where: "board", names: 11, attempts: 70, most: "arm reset", most_attempts: 20 });
  });

  it("is nothing where every name is a step", () => {
    expect(oddNames([{ id: "lamp", odd_names: null }])).toBeNull();
  });
});
