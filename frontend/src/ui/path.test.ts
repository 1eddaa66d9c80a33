import { describe, expect, it } from "vitest";
import { path } from "./path";

describe("a path through points", () => {
  it("is straight from one to the next, rounded", () => {
    expect(
      path([
        [0, 1.005],
        [2.333, 4],
        [5, 6],
      ]),
    ).toBe("M0,1L2.33,4L5,6");
    expect(path([[1.26, 2]], 1)).toBe("M1.3,2Z");
    expect(path([])).toBe("");
  });
});
