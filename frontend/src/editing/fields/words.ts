/** The words by which the choices of a playbook are offered: one table of them. */
import type { Option } from "./Field";

const plain = (...values: string[]): Option[] => values.map((value) => ({ value, label: value.replaceAll("-", " ") }));
const said = (words: Record<string, string>): Option[] =>
  Object.entries(words).map(([value, label]) => ({ value, label }));

export const STEP_KINDS = plain("check", "fix", "safeguard", "workaround", "prevention");
export const PERSONS = said({ caller: "the caller", desk: "the desk", visit: "a visit" });
export const LAYERS = plain("wiring", "power", "settings", "software", "data", "network", "hardware", "outside");
export const HAZARDS = plain("data", "service", "equipment", "security", "injury");
export const SEVERITIES = said({ 1: "hardly", 2: "a little", 3: "badly", 4: "very badly", 5: "beyond repair" });
export const UNDOABLE = plain("yes", "partly", "no");
export const PUT_BACK = said({
  "no-change": "after it did not help",
  always: "after every test",
  restored: "before the lasting repair is tested",
});
export const PROVES = said({ "after-leaving": "after leaving the state", "after-restart": "after a restart" });
export const NEEDS = said({
  tool: "a tool",
  part: "a part",
  right: "a right",
  skill: "a skill",
  "second-device": "a second device",
});
export const AFTER_ENDS = said({ fixed: "when it is fixed", "not-fixed": "when it is not fixed" });
export const SOURCES = said({
  maker: "the maker",
  "own-desk": "this desk",
  colleague: "a colleague",
  article: "an article",
  seller: "the seller",
});
export const HALVES = said({ halves: "by halves", "one-by-one": "one by one" });
export const FACT_TYPES = said({
  choice: "one of a few",
  version: "a version",
  text: "a text",
  number: "a number",
  "yes-no": "yes or no",
  duration: "a length of time",
});
export const SIGNS = said({ message: "a message", code: "a code", seen: "something seen" });
export const YES_NO = plain("yes", "no");
export const ENDS_OF_GUARD = said({
  "nothing-to-do": "there is nothing to do",
  "not-available": "it is not available",
  "could-not": "it could not be done",
  skipped: "it is skipped",
});
export const OUTCOMES = said({
  "could-not": "when it could not be done",
  "not-available": "when it is not there",
  "nothing-to-do": "when there is nothing to do",
  "no-change": "when nothing changes",
  better: "when it is better",
  worse: "when it is worse",
  restored: "when service is restored",
});
/** How a step may have ended, as agents answer it. */
export const ENDINGS = said({
  "could-not": "Could not do it",
  "not-available": "Not there on this unit",
  "nothing-to-do": "Nothing to do",
  worse: "Worse",
  skipped: "Skip it",
  "no-change": "No change",
});
export const PINS = said({ first: "stays first", last: "stays last" });
export const MODES = said({ mildest: "mildest first", balanced: "balanced" });
