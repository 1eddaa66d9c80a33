import { expect, test, vi } from "vitest";
import { pointer } from "../ui/pointer";
import { Telling } from "./telling";

test("what is pressed does not move before it is let go: pages are told then, fields at once", () => {
  vi.useFakeTimers();
  const told: string[] = [];
  const telling = new Telling();
  telling.addField(() => told.push("field"));
  telling.addPage(() => told.push("page"));
  telling.quietly();
  pointer.press();
  vi.runAllTimers();
  telling.all();
  telling.all();
  expect(told).toEqual(["field", "field", "field"]);
  pointer.letGo();
  expect(told).toEqual(["field", "field", "field", "page"]);
  pointer.letGo();
  telling.all();
  expect(told).toEqual(["field", "field", "field", "page", "field", "page"]);
  vi.useRealTimers();
});
