import { expect, it } from "vitest";
import { asDuration, durationIn, durationInWords } from "./duration";

it("writes what is typed as a duration", () => {
  expect(asDuration("2", "hours")).toBe("PT2H");
  expect(asDuration("1,5", "hours")).toBe("PT90M");
  expect(asDuration("45", "minutes")).toBe("PT45M");
  expect(asDuration("0.5", "days")).toBe("PT12H");
  expect(asDuration("3", "days")).toBe("P3D");
});

it("takes nothing that is no length", () => {
  for (const text of ["", " ", "often", "0", "-2", "1e999"]) expect(asDuration(text, "hours")).toBeUndefined();
});

it.each([
  ["4 h", "PT4H", "4 h"],
  ["4h", "PT4H", "4 h"],
  ["four", undefined, "four"],
  ["4", undefined, "4"],
  ["90 min", "PT90M", "90 min"],
  ["1 hour 30 minutes", "PT1H30M", "1 h 30 min"],
  ["1 h and 30 min", "PT1H30M", "1 h 30 min"],
  ["1,5 h", "PT1H30M", "1 h 30 min"],
  ["0.5 days", "PT12H", "12 h"],
  ["2 days", "P2D", "2 days"],
  ["1 day, 4 hrs", "P1DT4H", "1 day 4 h"],
  ["a week", undefined, "a week"],
  ["2 weeks", "P14D", "14 days"],
  ["10 s", "PT10S", "10 s"],
  ["20 sec.", "PT20S", "20 s"],
  ["0 s", "PT0S", "0 s"],
  ["pt4h", "PT4H", "4 h"],
  ["P1DT2H", "P1DT2H", "1 day 2 h"],
  ["P", undefined, "P"],
  ["4 hours of use", undefined, "4 hours of use"],
  ["4 x", undefined, "4 x"],
  ["", undefined, ""],
])("reads %s as %s, and shows it as %s", (typed, held, shown) => {
  expect(durationIn(typed)).toBe(held);
  expect(durationInWords(held ?? typed)).toBe(shown);
});
