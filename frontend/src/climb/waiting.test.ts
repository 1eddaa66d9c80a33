import { beforeEach, describe, expect, it, vi } from "vitest";
import { keepWaiting, stopWaiting, waiting } from "./waiting";

const kept = new Map<string, string>();

beforeEach(() => {
  kept.clear();
  vi.stubGlobal("localStorage", {
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, text: string) => kept.set(name, text),
    removeItem: (name: string) => kept.delete(name),
  });
});

describe("a move that waits", () => {
  const sent = { key: "key-1", after: 3, move: { kind: "baseline" as const, result: "fails" as const } };

  it("is there until it is acknowledged, each case by itself", () => {
    keepWaiting("one", sent);
    expect(waiting("one")).toEqual(sent);
    expect(waiting("other")).toBeUndefined();
    stopWaiting("one");
    expect(waiting("one")).toBeUndefined();
  });

  it("is the last one that was sent", () => {
    keepWaiting("one", sent);
    keepWaiting("one", { ...sent, after: 4 });
    expect(waiting("one")?.after).toBe(4);
  });

  it("is none where the browser keeps something that nobody can read", () => {
    kept.set("mild-ladder-waiting-one", "{");
    expect(waiting("one")).toBeUndefined();
  });
});
