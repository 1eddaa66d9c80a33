import { describe, expect, it } from "vitest";
import { formOf, kindOf, nameOf, refOf, spreadOf, textOf, titleOf, valuesOf } from "./items";

describe("the working form at the door", () => {
  it("is taken as it was sent", () => {
    const form = { key: "playbook", steps: [{ key: "a", causes: { x: 0.5 }, findings: [{ key: "b" }] }], signs: [] };
    expect(formOf(form)).toBe(form);
  });

  it.each([null, "text", [], {}, { key: 1 }, { key: "playbook", steps: [{ title: "no key" }] }, { key: "p", a: [1] }])(
    "is refused in a sentence: %j",
    (sent) => {
      expect(() => formOf(sent)).toThrow("load the page again");
    },
  );
});

describe("fields of items", () => {
  it("are texts whatever stands in them", () => {
    expect(textOf({ key: "a", title: "T" }, "title")).toBe("T");
    expect(textOf({ key: "a", title: 7 }, "title")).toBe("7");
    expect(textOf({ key: "a", title: null }, "title")).toBe("");
    expect(textOf(undefined, "title")).toBe("");
  });

  it("are values by name, or none", () => {
    expect(valuesOf({ key: "a", fixes: { x: 1 } }, "fixes")).toEqual({ x: 1 });
    expect(valuesOf({ key: "a", fixes: "often" }, "fixes")).toEqual({});
    expect(valuesOf({ key: "a", fixes: [1] }, "fixes")).toEqual({});
    expect(spreadOf({ key: "a", shares: { x: 0.25 } })).toEqual({ x: 0.25 });
    expect(spreadOf({ key: "a", choices: { y: 1 }, shares: { x: 0.25 } })).toEqual({ y: 1 });
  });

  it("name an item as it is named elsewhere", () => {
    expect(refOf({ key: "a", id: "" })).toBe("a");
    expect(refOf({ key: "a", id: "one" })).toBe("one");
    expect(nameOf({ key: "a", id: "one", name: "two" })).toBe("two");
    expect(titleOf({ key: "a", ask: "Is it so?" })).toBe("Is it so?");
    expect(titleOf(undefined, "a step")).toBe("a step");
    expect(kindOf({ key: "a" })).toBe("fix");
  });
});
