import { describe, expect, it } from "vitest";
import { firstAsking } from "./asking";

describe("where a value is asked", () => {
  const open = { text: "Open the panel" };
  const take = { text: "Take a spare marked ‹Number›", asks: ["number"] };
  const run = { copy_text: "fit ‹Number›", asks: ["number", "lane"] };
  const ways = {
    ways: [
      { words: "by hand", worked: 0, do: [{ text: "by hand" }] },
      { words: "by command", worked: 0, do: [run] },
    ],
  };

  it("is the first instruction that waits for it, whichever list it stands in", () => {
    expect(firstAsking([[open], [open, take, run]], "number")).toBe(take);
    expect(firstAsking([[take], [run]], "lane")).toBe(run);
  });

  it("is the instruction whose ways wait for it", () => {
    expect(firstAsking([[open, ways]], "lane")).toBe(ways);
  });

  it("is none where only another text of the step waits for it", () => {
    expect(firstAsking([[open, take]], "lane")).toBeUndefined();
  });
});
