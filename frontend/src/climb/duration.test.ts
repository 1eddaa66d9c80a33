import { expect, it } from "vitest";
import { asDuration, inPlainWords } from "./duration";

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

it("says a duration in plain words, and leaves other values alone", () => {
  expect(inPlainWords("PT6H")).toBe("6 hours");
  expect(inPlainWords("P1DT30M")).toBe("1 day 30 minutes");
  for (const text of ["P", "PT", "GR4", "PT0H", ""]) expect([text, ""]).toContain(inPlainWords(text));
});
