import { describe, expect, it } from "vitest";
import { brackets } from "./brackets";

describe("brackets", () => {
  it("joins neighbours of one value and keeps others apart", () => {
    expect(brackets([null, "open", "open", "open", null, "deep", "open"])).toEqual([
      undefined,
      "first",
      "middle",
      "last",
      undefined,
      "alone",
      "alone",
    ]);
  });

  it("has nothing to join on an empty ladder", () => {
    expect(brackets([])).toEqual([]);
  });
});
