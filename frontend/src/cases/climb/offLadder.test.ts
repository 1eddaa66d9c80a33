import { describe, expect, it } from "vitest";
import { moveOf, suggestions } from "./offLadder";

const did = { called: " Knock on it ", why: "", outcome: "no-change" as const, isAgreed: false };

describe("what was done off the ladder", () => {
  it("is logged under the agent's own words", () => {
    expect(moveOf(did, false)).toEqual({
      kind: "off-ladder",
      step: null,
      called: "Knock on it",
      why: null,
      outcome: "no-change",
      agreed: false,
    });
  });

  it("needs a name, and a reason where it is done once more", () => {
    expect(moveOf({ ...did, called: "  " }, false)).toBeUndefined();
    expect(moveOf({ ...did, step: "restart" }, true)).toBeUndefined();
    expect(moveOf({ ...did, step: "restart", why: "The lid was open" }, true)).toMatchObject({
      why: "The lid was open",
    });
  });

  it("may be a step that was tried here, or one of the library, each once", () => {
    const rung = { path: "ladder.0", label: "1", depth: 0, title: "Restart it", step: "restart", says: "no" };
    const view = {
      path: [
        { ...rung, state: "tried" as const },
        { ...rung, path: "ladder.1", state: "tried" as const },
      ],
    };
    const library = [
      { id: "restart", title: "Restart it" },
      { id: "other", title: "Restart the other" },
    ];
    expect(suggestions(view, "restart", library).map(({ id }) => id)).toEqual(["restart", "other"]);
    expect(suggestions(view, "re", library)).toEqual([]);
  });
});
