import { expect, test } from "vitest";
import type { Job } from "../../api/types";
import { howFar } from "./words";

const job: Job = {
  number: 1,
  kind: "importing",
  subject: "office.jsonl",
  state: "running",
  phase: "logging",
  done: 1200,
  of: 3000,
  is_outside: true,
  who: "shell",
  asked: "2026-11-01T10:00:00Z",
  began: null,
  ended: null,
  says: null,
};

test.each([
  [{}, "1,200 of 3,000 lines logged"],
  [{ of: null }, "1,200 cases logged"],
  [{ phase: "reading", done: 0 }, "is read through first"],
  [{ state: "waiting", done: 0 }, "waits for its turn"],
  [{ state: "waiting" }, "goes on shortly"],
  [{ state: "cancelling" }, "is being undone; 1,200 cases had been logged"],
] as const)("%o", (change, says) => {
  expect(howFar({ ...job, ...change }).replaceAll("\u00a0", " ")).toBe(says);
});
