import { expect, it } from "vitest";
import type { Move } from "../../api/types";
import { waysIn, withWays } from "./ways";

const fixed: Move = { kind: "answer", step: "load-program", outcome: "fixed" };

it("tells with the answer which way worked", () => {
  expect(withWays(fixed, true, ["Hold the blue key"])).toMatchObject({ outcome: "fixed", ways: ["Hold the blue key"] });
});

it("says nothing where nothing was marked, or nothing was carried out", () => {
  expect(withWays(fixed, true, [])).not.toHaveProperty("ways");
  expect(withWays(fixed, false, ["Hold the blue key"])).not.toHaveProperty("ways");
  expect(withWays({ kind: "resume" }, true, ["Hold the blue key"])).toEqual({ kind: "resume" });
});

it("finds the ways of every instruction", () => {
  const way = (words: string) => ({ words, worked: 0, do: [{ text: words }] });
  expect(waysIn([{ text: "Open it" }, { ways: [way("by hand"), way("by key")] }])).toEqual(["by hand", "by key"]);
});
