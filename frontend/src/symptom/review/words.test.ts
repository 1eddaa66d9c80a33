import { describe, expect, it } from "vitest";
import type { ReviewFinding } from "../../api/types";
import { counted, levelsByRow } from "./words";

const finding = (level: ReviewFinding["level"], rung: string | null): ReviewFinding => ({
  level,
  rung,
  code: "idle-check",
  where: rung ?? "steps.0",
  says: "It changes nothing",
});

describe("levelsByRow", () => {
  it("marks a row with its gravest finding, and none for hints", () => {
    const found = levelsByRow([
      finding("warning", "ladder.1"),
      finding("blocker", "ladder.1"),
      finding("hint", "ladder.2"),
      finding("warning", null),
    ]);
    expect([...found]).toEqual([["ladder.1", "blocker"]]);
  });
});

describe("counted", () => {
  it("counts by level, and says when there is nothing", () => {
    expect(counted([finding("warning", null), finding("warning", null), finding("blocker", null)])).toBe(
      "1 blocker, 2 warnings",
    );
    expect(counted([])).toBe("nothing to say");
    expect(counted([], 1)).toBe("1 flaw");
    expect(counted([finding("hint", null)], 2)).toBe("2 flaws, 1 hint");
  });
});
