import { describe, expect, it } from "vitest";
import { type Item, ROOT, Tree } from "../../draft/tree";
import { asKept, asTyped, completions } from "./conditionText";

const tree = new Tree({
  key: ROOT,
  facts: [
    { key: "k1", id: "model", ask: "Model on the plate", type: "choice", choices: { GR4: 0.6, "GR 6": 0.4 } },
    { key: "kmood00000", ask: "Mood", type: "text" },
    { key: "k5", id: "every", ask: "How often is it?", type: "duration", shares: { PT2H: 0.5, P1DT6H: 0.5 } },
  ],
  steps: [{ key: "k2", id: "look", title: "Look at it", findings: [{ key: "kf1", id: "low", title: "Reads low" }] }],
} as unknown as Item);

const PAIRS = [
  ["model is GR4", '"Model on the plate" is GR4'],
  ['model is not "GR 6" and kmood00000 known', '"Model on the plate" is not "GR 6" and "Mood" known'],
  ["look found low", '"Look at it" found "Reads low"'],
  ["not look ended could-not", 'not "Look at it" ended "Could not do it"'],
  [
    "not (model in (GR4, model) or look found low)",
    'not ("Model on the plate" in (GR4, model) or "Look at it" found "Reads low")',
  ],
  ["every below PT2H and kmood00000 is PT2H", '"How often is it?" below 2 h and "Mood" is PT2H'],
  ["not model is GR4 and model is not GR4", 'not "Model on the plate" is GR4 and "Model on the plate" is not GR4'],
  [
    "not every at least P1DT6H or look found low",
    'not "How often is it?" at least 1 day 6 h or "Look at it" found "Reads low"',
  ],
  ["earlier cases at least 2 within 9 days", "earlier cases at least 2 within 9 days"],
  ["earlier resolved by look within 30 days", 'earlier resolved by "Look at it" within 30 days'],
] as const;

describe("a condition as one types it", () => {
  it.each(PAIRS)("%s", (kept, typed) => {
    expect(asTyped(kept, tree)).toBe(typed);
    expect(asKept(typed, tree)).toBe(kept);
  });

  it("leaves what it does not know as it stands, half typed too", () => {
    for (const text of ["", "mod", '"Model on', "model is", "nobody is here", '"A title of nothing" is x', "(((("]) {
      expect(asKept(text, tree)).toBe(text);
    }
  });

  it("takes a length of time however it is written", () => {
    for (const typed of ["2 h", '"2 h"', "2 hours", "2h", "PT2H"]) {
      expect(asKept(`"How often is it?" above ${typed} and "Mood" known`, tree)).toBe(
        "every above PT2H and kmood00000 known",
      );
    }
    expect(asKept('"How often is it?" above 2', tree)).toBe("every above 2");
  });

  it("takes answers of several words without quotes, where the question or the check has them", () => {
    expect(asKept('"Model on the plate" is GR 6 and "Mood" known', tree)).toBe('model is "GR 6" and kmood00000 known');
    expect(asKept('"Model on the plate" is GR 7', tree)).toBe("model is GR 7");
    expect(asKept('"Look at it" found Reads low or "Mood" known', tree)).toBe("look found low or kmood00000 known");
  });

  it("is completed by what may come next", () => {
    const offers = (text: string) => completions(text, text.length, tree).offers.map((one) => one.text);
    expect(offers("")).toEqual(['"Model on the plate"', '"Mood"', '"How often is it?"', '"Look at it"', "not"]);
    expect(offers('"How often is it?" at least ')).toEqual(["2 h", "1 day 6 h"]);
    expect(offers("mo")).toEqual(['"Model on the plate"', '"Mood"']);
    expect(offers('"Model on the plate" ')).toEqual(["is", "is not", "in (", "known"]);
    expect(offers('"Model on the plate" is ')).toEqual(["GR4", '"GR 6"']);
    expect(offers('"Look at it" found ')).toEqual(['"Reads low"']);
    expect(offers('"Model on the plate" is GR4 ')).toEqual(["and", "or"]);
    expect(offers('"Mood" known and ')).toContain('"Look at it"');
  });

  it("puts a completion in place of the word under the cursor", () => {
    expect(completions("not mo", 6, tree)).toMatchObject({ from: 4, to: 6 });
  });
});
