import { describe, expect, it } from "vitest";
import { readBefore } from "./before";

const steps = [
  { id: "restart", title: "Restart the label printer", findings: [] },
  { id: "roll", title: "Put in a new roll and close the lid", findings: [] },
  { id: "look", title: "Look at the lamp", findings: [{ id: "on", title: "It is on" }] },
  { id: "queue", title: "Restart the queue", findings: [] },
];
const told = (text: string) => readBefore(text, steps).map(({ called, step }) => step?.id ?? called);

describe("what was done before the call", () => {
  it("is several things in one line, each a step where that is plain", () => {
    expect(told("restarted the printer, looked at the lamp and they hit it")).toEqual([
      "restart",
      "look",
      "they hit it",
    ]);
    expect(told("they always do a restart first")).toEqual(["they always do a restart first"]);
  });

  it("stays in their words where two steps are meant, or none", () => {
    expect(told("restart")).toEqual(["restart"]);
    expect(readBefore("restart", steps)[0]?.or?.map(({ id }) => id)).toEqual(["restart", "queue"]);
    expect(told("it; the")).toEqual(["it", "the"]);
  });

  it("knows a title that has an and in it", () => {
    expect(told("Put in a new roll and close the lid")).toEqual(["roll"]);
  });

  it("is told once, however often it is said, and nothing where nothing is said", () => {
    expect(told("new roll, a new roll, Hit it, hit it")).toEqual(["roll", "Hit it"]);
    expect(told(" , ;\n")).toEqual([]);
  });
});
