import { expect, it } from "vitest";
import { asDuration } from "./duration";

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
