import { describe, expect, it } from "vitest";
import { concerning } from "./concerns";
import type { Notice } from "./queries";

const NOON = new Date("2026-11-26T12:00:00Z").getTime();
const notice = (changes: Partial<Notice>): Notice => ({
  number: 1,
  playbook: null,
  fact: null,
  value: null,
  says: "The list server is down",
  begun: "2026-11-26T11:00:00Z",
  until: null,
  ended: null,
  who: "R. Tamsin",
  calls: [],
  ...changes,
});
const concerns = (one: Notice, facts = {}) => concerning([one], { playbook: "gate", facts }, NOON).length === 1;

describe("a notice concerns a caller", () => {
  it("of its symptom, or of any where it names none", () => {
    expect(concerns(notice({}))).toBe(true);
    expect(concerns(notice({ playbook: "gate" }))).toBe(true);
    expect(concerns(notice({ playbook: "board" }))).toBe(false);
  });

  it("whose unit may be one of those", () => {
    const there = notice({ fact: "site", value: "Low Harrow" });
    expect(concerns(there)).toBe(true);
    expect(concerns(there, { site: "Low Harrow" })).toBe(true);
    expect(concerns(there, { site: "Sallow Bay" })).toBe(false);
  });

  it("while it holds", () => {
    expect(concerns(notice({ ended: "2026-11-26T11:30:00Z" }))).toBe(false);
    expect(concerns(notice({ until: "2026-11-26T12:00:00Z" }))).toBe(false);
    expect(concerns(notice({ until: "2026-11-26T15:00:00Z" }))).toBe(true);
  });
});
