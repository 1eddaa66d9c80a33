import { describe, expect, it } from "vitest";
import { pastedLines, withArticle } from "./pasted";

describe("a pasted list", () => {
  it("loses its numbers and bullets, and nothing else", () => {
    const text = "1. Open it\r\n2) Look\n\n • Push\n– Pull\no Turn\na) Wait\n7 of them\nI.5 V";
    expect(pastedLines(text)).toEqual(["Open it", "Look", "Push", "Pull", "Turn", "Wait", "7 of them", "I.5 V"]);
  });

  it("is added with the right article", () => {
    expect([withArticle("risk"), withArticle("instruction")]).toEqual(["a risk", "an instruction"]);
  });
});
