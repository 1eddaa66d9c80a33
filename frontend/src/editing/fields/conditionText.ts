/** Conditions as one types them: with the titles of facts, steps and findings in quotes, where the draft holds ids; and
 * what may come next at the cursor. */
import { refOf, textOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import { durationIn, durationInWords } from "../../ui/duration";
import { itemNamed } from "./operations";
import { factInWords } from "./values";
import { ENDINGS } from "./words";

interface Word {
  text: string;
  start: number;
  end: number;
  isQuoted: boolean;
}

const WORDS = /"[^"]*"?|[(),]|[^\s"(),]+/g;
const TESTS = ["is", "in", "below", "above", "at", "known", "found", "ended"];
const VALUES_BEFORE = new Set(["is", "not", "below", "above", "least", "most"]);
const COMPARING = new Set([...VALUES_BEFORE, "at"]);
const JOINING = new Set(["and", "or"]);
/** Of no more words is a length of time made. */
const LONGEST = 8;

function words(text: string): Word[] {
  const found: Word[] = [];
  for (const match of text.matchAll(WORDS)) {
    const [text] = match;
    found.push({
      text: text.replaceAll('"', ""),
      start: match.index,
      end: match.index + text.length,
      isQuoted: text.startsWith('"'),
    });
  }
  return found;
}

type Role = "subject" | "finding" | "ending" | "step" | "value" | undefined;

/** What a word stands for, by what is around it. */
function roleOf(all: readonly Word[], at: number): Role {
  const [before, after] = [all[at - 1], all[at + 1]];
  if (before?.text === "found" && !before.isQuoted) return "finding";
  if (before?.text === "ended" && !before.isQuoted) return "ending";
  if (before?.text === "by" && all[at - 2]?.text === "resolved") return "step";
  if (isBeforeValue(all, at - 1)) return "value";
  return after && !after.isQuoted && TESTS.includes(after.text) ? "subject" : undefined;
}

/** Whether a value follows: after `not` where that belongs to `is`. */
function isBeforeValue(all: readonly Word[], at: number): boolean {
  const word = all[at];
  if (!word || word.isQuoted) return false;
  return word.text === "not" ? all[at - 1]?.text === "is" : VALUES_BEFORE.has(word.text);
}

/** What a value or a finding is one of: a fact, or a check. */
function aboutOf(all: readonly Word[], at: number, role: Role): string | undefined {
  if (role === "finding") return all[at - 2]?.text;
  if (role !== "value") return undefined;
  return all.slice(0, at).findLast(({ text, isQuoted }) => isQuoted || !COMPARING.has(text))?.text;
}

type Replacing = (word: Word, role: Role, about: string | undefined) => string | undefined;

type Joining = (all: readonly Word[], at: number, role: Role, about: string | undefined) => Word | undefined;

/** The text with each word that names something replaced. joined: a run of words from there that is one answer. */
function replaced(text: string, by: Replacing, joined: Joining): string {
  const all = words(text);
  let made = "";
  let from = 0;
  for (const [at, alone] of all.entries()) {
    if (alone.start < from) continue;
    const role = isNot(alone) ? undefined : roleOf(all, at);
    const about = aboutOf(all, at, role);
    const word = joined(all, at, role, about) ?? alone;
    const other = role && by(word, role, about);
    if (other === undefined) continue;
    made += text.slice(from, word.start) + other;
    from = word.end;
  }
  return made + text.slice(from);
}

/** The longest run of words without quotes that is an answer. */
function runAt(all: readonly Word[], at: number, isAnswer: (text: string) => boolean): Word | undefined {
  const first = all[at];
  const until = all.slice(at, at + LONGEST).findIndex(({ text, isQuoted }) => isQuoted || JOINING.has(text));
  for (let to = at + (until < 0 ? LONGEST : until); first && to > at; to--) {
    const run = all.slice(at, to);
    const text = run.map((word) => word.text).join(" ");
    if (isAnswer(text)) return { ...first, text, end: run.at(-1)?.end ?? first.end };
  }
  return undefined;
}

const isNot = (word: Word) => !word.isQuoted && (word.text === "not" || word.text === "(");

/** How a condition of the draft is typed: titles in quotes. */
export const asTyped = (text: string, tree: Tree): string =>
  replaced(
    text,
    ({ text: ref }, role, about) => {
      if (role === "value") return isLength(tree, about) ? durationInWords(ref) : undefined;
      if (role === "ending") return endingIn("value", ref, "label");
      const title = titleOf(role === "finding" ? findingOf(tree, about, ref) : thing(tree, role, ref));
      return title === undefined ? undefined : `"${title}"`;
    },
    () => undefined,
  );

/** How the draft holds what was typed. */
export const asKept = (text: string, tree: Tree): string =>
  replaced(
    text,
    ({ text: title, isQuoted }, role, about) => {
      if (role === "value") {
        if (isLength(tree, about)) return durationIn(title);
        return isQuoted || !title.includes(" ") ? undefined : `"${title}"`;
      }
      if (role === "finding") {
        const found = byTitle(findingsOf(tree, about), title);
        return found && refOf(found);
      }
      if (role === "ending") return endingIn("label", title, "value");
      const found = isQuoted ? byTitle(things(tree, role), title) : undefined;
      return found && refOf(found);
    },
    (all, at, role, about) => {
      if (role === "finding") return runAt(all, at, (run) => byTitle(findingsOf(tree, about), run) !== undefined);
      if (role === "ending") return runAt(all, at, (run) => endingIn("label", run, "value") !== undefined);
      if (role !== "value") return undefined;
      if (isLength(tree, about)) return runAt(all, at, (run) => durationIn(run) !== undefined);
      const answers = answersOf(factOf(tree, about ?? ""), tree);
      return runAt(all, at, (run) => answers.includes(run));
    },
  );

/** An end of a step in the words in which it is answered, or the other way round. */
function endingIn(from: "value" | "label", text: string, to: "value" | "label"): string | undefined {
  const found = ENDINGS.find((one) => one[from].toLowerCase() === text.toLowerCase());
  return found && (to === "label" ? `"${found.label}"` : found.value);
}

/** The answers to a question, as far as they are known. */
function answersOf(fact: Item | undefined, tree: Tree): string[] {
  if (!fact) return [];
  return Object.keys((tree.value(fact.key, ["choices"]) ?? tree.value(fact.key, ["shares"]) ?? {}) as object);
}

/** Whether what is asked there is answered by a length of time. */
const isLength = (tree: Tree, about: string | undefined): boolean => factOf(tree, about ?? "")?.type === "duration";

/** A fact by its question or its id. */
const factOf = (tree: Tree, text: string): Item | undefined =>
  byTitle(tree.shown(ROOT, ["facts"]), text) ?? itemNamed(tree, "facts", text);

const titleOf = (item: Item | undefined): string | undefined => {
  const said = item?.title ?? item?.ask;
  return typeof said === "string" && said && !said.includes('"') ? said : undefined;
};

const things = (tree: Tree, role: Role): Item[] =>
  role === "step" ? tree.shown(ROOT, ["steps"]) : [...tree.shown(ROOT, ["facts"]), ...tree.shown(ROOT, ["steps"])];

const thing = (tree: Tree, role: Role, ref: string): Item | undefined =>
  (role === "subject" ? itemNamed(tree, "facts", ref) : undefined) ?? itemNamed(tree, "steps", ref);

function findingsOf(tree: Tree, check: string | undefined): Item[] {
  const step = byTitle(tree.shown(ROOT, ["steps"]), check ?? "") ?? itemNamed(tree, "steps", check);
  return step ? tree.shown(step.key, ["findings"]) : [];
}

const findingOf = (tree: Tree, check: string | undefined, ref: string): Item | undefined =>
  findingsOf(tree, check).find(({ key, id, name }) => ref === id || ref === key || ref === name);

const byTitle = (items: readonly Item[], title: string): Item | undefined =>
  items.find((one) => titleOf(one) === title);

interface Completion {
  /** What is put in. */
  text: string;
  /** What sort of thing it is. */
  is: string;
}

export interface Completions {
  from: number;
  to: number;
  offers: Completion[];
}

const OPERATORS: Record<string, string[]> = {
  choice: ["is", "is not", "in (", "known"],
  text: ["is", "is not", "in (", "known"],
  "yes-no": ["is yes", "is no", "known"],
  version: ["is", "below", "above", "at least", "at most", "known"],
  number: ["is", "below", "above", "at least", "at most", "known"],
  duration: ["below", "above", "at least", "at most", "known"],
};

/** What may come at the cursor, that begins as the word under it does. */
export function completions(typed: string, cursor: number, tree: Tree): Completions {
  const all = words(typed.slice(0, cursor));
  const last = all.at(-1);
  const isWithin =
    last !== undefined && last.end === cursor && !/\s$/.test(typed.slice(0, cursor)) && !"(),".includes(last.text);
  const under = isWithin ? last : undefined;
  const before = under ? all.slice(0, -1) : all;
  const begun = (under?.text ?? "").toLowerCase();
  const offers = expected(before, tree).filter(
    ({ text }) => text.replaceAll('"', "").toLowerCase().includes(begun) && text !== typed.slice(under?.start, cursor),
  );
  return { from: under?.start ?? cursor, to: cursor, offers: offers.slice(0, 8) };
}

function expected(before: readonly Word[], tree: Tree): Completion[] {
  const [last, above] = [before.at(-1), before.at(-2)];
  const subjects = [
    ...tree.shown(ROOT, ["facts"]).map((one) => offer(one, "asked about the unit")),
    ...tree
      .shown(ROOT, ["steps"])
      .map((one) => offer(one, tree.shown(one.key, ["findings"]).length ? "a check" : "a step")),
  ].filter((one) => one.text !== '""');
  const start = [...subjects, { text: "not", is: "the contrary" }];
  if (!last || (!last.isQuoted && ["and", "or", "("].includes(last.text))) return start;
  if (!last.isQuoted && last.text === "not" && above?.text !== "is") return subjects;
  if (!last.isQuoted && last.text === "found") {
    return findingsOf(tree, above?.text).map((one) => offer(one, "what it finds"));
  }
  if (!last.isQuoted && last.text === "ended") {
    return ENDINGS.map(({ label }) => ({ text: `"${label}"`, is: "how it ended" }));
  }
  const fact = factAt(before, tree);
  if (!last.isQuoted && VALUES_BEFORE.has(last.text)) return valuesOf(fact, tree);
  if (fact && last === fact.word) {
    const type = textOf(fact.item, "type") || "text";
    return (OPERATORS[type] ?? []).map((text) => ({ text, is: "how it compares" }));
  }
  const step = byTitle(tree.shown(ROOT, ["steps"]), last.text);
  if (step) {
    const ended = { text: "ended", is: "how it ended" };
    return tree.shown(step.key, ["findings"]).length ? [{ text: "found", is: "what it found" }, ended] : [ended];
  }
  return ["and", "or"].map((text) => ({ text, is: "and more" }));
}

const offer = (item: Item, is: string): Completion => ({ text: `"${titleOf(item) ?? ""}"`, is });

function factAt(before: readonly Word[], tree: Tree): { item: Item; word: Word } | undefined {
  for (const word of before.slice(-4).reverse()) {
    const item = factOf(tree, word.text);
    if (item) return { item, word };
  }
  return undefined;
}

function valuesOf(fact: { item: Item } | undefined, tree: Tree): Completion[] {
  const type = fact?.item.type;
  return answersOf(fact?.item, tree).map((value) => ({
    text: type === "duration" || /^[\w.-]+$/.test(value) ? factInWords(type, value) : `"${value}"`,
    is: "a value",
  }));
}
