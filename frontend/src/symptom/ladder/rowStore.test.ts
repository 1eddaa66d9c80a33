import { describe, expect, it } from "vitest";
import { type RowState, RowStore } from "./rowStore";

const states = (of: Record<string, RowState>) => new Map(Object.entries(of));

/** A store and the keys of the rows that were told, in order. */
function heard(of: Record<string, RowState>) {
  const store = new RowStore(states(of));
  const told: string[] = [];
  for (const key of ["a", "b", "c"]) store.subscribe(key, () => told.push(key));
  return { store, told };
}

describe("the rows of a ladder", () => {
  it("are told of their own changes alone", () => {
    const { store, told } = heard({ a: { isChosen: true }, b: {} });
    store.take(states({ a: { isChosen: true }, b: { isChosen: false } }));
    expect(told).toEqual([]);
    store.take(states({ a: {}, b: { isChosen: true } }));
    expect(told).toEqual(["a", "b"]);
    expect([store.of("a").isChosen, store.of("b").isChosen]).toEqual([undefined, true]);
  });

  it("keep the very same state until something in it changes", () => {
    const { store } = heard({ a: { level: "hint", footing: "first" } });
    const before = store.of("a");
    store.take(states({ a: { level: "hint", footing: "first" } }));
    expect(store.of("a")).toBe(before);
  });

  it("stand plainly when they have gone, and are told so", () => {
    const { store, told } = heard({ a: { isPicked: true } });
    store.take(states({ c: { isPicked: true } }));
    expect(told).toEqual(["a", "c"]);
    expect(store.of("a")).toEqual({});
  });

  it("are told nothing once they have left", () => {
    const store = new RowStore(states({}));
    let count = 0;
    const leave = store.subscribe("a", () => count++);
    leave();
    store.take(states({ a: { isChosen: true } }));
    expect(count).toBe(0);
  });
});
