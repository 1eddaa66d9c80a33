import { describe, expect, it } from "vitest";
import { apply } from "../../draft/apply";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { heldAt, mainLine, moved, operationsFor, placeAfter } from "./moves";

const BONDS = [{ holders: ["b"], below: "c", says: "“B” must stand above “C”, which it protects" }];
const tree = (keys: string) =>
  new Tree({ key: ROOT, ladder: [...keys].map((key) => ({ key, step: key })) } as unknown as Item);

describe("a move", () => {
  it("moves by places and stays on the ladder", () => {
    expect(placeAfter(3, -1, 9)).toBe(2);
    expect(placeAfter(0, -1, 9)).toBe(0);
    expect(placeAfter(8, 1, 9)).toBe(8);
  });

  it("is held by a rule that it would newly break, with who holds it and both at once", () => {
    const order = [..."abcd"];
    expect(heldAt(order, BONDS, "a", 3)).toBeUndefined();
    const held = heldAt(order, BONDS, "c", 0);
    expect(held?.holders).toEqual(["b"]);
    expect(held?.both).toEqual([..."bcad"]);
    expect(held?.says).toContain("Move both");
    expect(heldAt(order, BONDS, "b", 3)?.holders).toEqual(["c"]);
    expect(heldAt(order, BONDS, "b", 3)?.both).toEqual([..."adbc"]);
  });

  it("of both by one place moves the pair by one place", () => {
    expect(heldAt([..."abcd"], BONDS, "c", 1)?.both).toEqual([..."bcad"]);
    expect(heldAt([..."abcd"], BONDS, "b", 2)?.both).toEqual([..."adbc"]);
  });

  it("that both together would not mend is only told", () => {
    const more = [...BONDS, { holders: ["a"], below: "b", says: "“A” must stand above “B”" }];
    expect(heldAt([..."abcd"], more, "c", 0)).toMatchObject({ both: undefined, holders: ["b"] });
    expect(heldAt([..."abcd"], more, "c", 0)?.says).toContain("does not mend");
  });

  it("may leave a rule broken that was broken before", () => {
    expect(heldAt([..."cbad"], BONDS, "c", 0)).toBeUndefined();
    expect(heldAt([..."acbd"], BONDS, "c", 0)).toBeUndefined();
  });

  it.each([
    ["abcd", "c", 0],
    ["abcd", "a", 3],
    ["abcd", "d", 1],
  ])("of %s, %s to %i, comes to the order that was shown", (keys, key, target) => {
    const wanted = moved([...keys], key, target);
    const made = apply(
      tree(keys).root,
      operationsFor(tree(keys), wanted, [key], () => "p1"),
      {
        client: "page",
        number: 1,
        who: 1,
        at: "",
      },
    );
    expect(mainLine(made.tree)).toEqual(wanted);
    expect(made.done).toHaveLength(1);
  });

  it("of both comes to that order too", () => {
    const both = [..."bcad"];
    let count = 0;
    const made = apply(
      tree("abcd").root,
      operationsFor(tree("abcd"), both, ["b", "c"], () => `p${count++}`),
      {
        client: "page",
        number: 1,
        who: 1,
        at: "",
      },
    );
    expect(mainLine(made.tree)).toEqual(both);
  });
});
