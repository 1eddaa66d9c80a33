/** What things of a draft are called on screen: the nearest title around an item, and the name of a field. */
import { textOf, titleOf } from "../draft/items";
import { ROOT, type Tree } from "../draft/tree";

const FIELDS: Record<string, string> = {
  note: "why it stands here",
  playbook: "the playbook that it belongs to",
  sign: "what one sees instead",
  ask: "the question",
  how: "how it is done",
  give: "what is given",
  do: "what is done",
  what: "what it is",
  why: "why",
  chance: "how likely",
  severity: "how bad",
  text: "text",
  step: "the step",
  hand_offs: "teams",
  fixes: "what it ends",
  given: "how often it is found",
  says: "what callers say",
  when: "condition",
  title: "title",
  hands_on: "minutes of work",
  wait: "minutes of waiting",
  travel: "minutes of journey",
};

export const fieldInWords = (path: readonly string[]): string => {
  const last = path.at(-1) ?? "";
  return FIELDS[last] ?? last.replaceAll("_", " ");
};

/** What an item of a list is called that has no title of its own. */
const NOUNS: Record<string, string> = {
  after_fix: "prevention",
  afterwards: "loose end",
  causes: "cause",
  do: "instruction",
  facts: "question",
  findings: "finding",
  footings: "state",
  guard: "guard",
  hand_offs: "team",
  hazards: "risk",
  inputs: "value that is asked",
  leave_alone: "part to leave alone",
  options: "choice",
  see_also: "look-alike",
  signs: "sign",
  steps: "step",
  to_hand: "thing to have at hand",
  varies: "difference by unit",
  ways: "way",
};
/** What says best which item it is, where it has no title. */
const SAYING = ["title", "ask", "sign", "text", "what"] as const;

/** What the nearest thing with a title around an item is called; else which one of its list it is. */
export function placeInWords(tree: Tree, key: string): string {
  for (let here: string | undefined = key; here && here !== ROOT; here = tree.spots.get(here)?.parent) {
    const item = tree.items.get(here);
    if (!item) return "Something that is no longer here";
    if (typeof item.step === "string" && tree.spots.get(here)?.list.at(-1) !== "after_fix") {
      return titleOfStep(tree, item.step);
    }
    const title = item.title ?? item.ask;
    if (typeof title === "string" && title) return title;
    const spot = tree.spots.get(here);
    if (spot?.parent === ROOT) return ordinal(tree, here);
  }
  return textOf(tree.root, "title") || "The playbook";
}

/** Such as “Look-alike 2, “the lamp blinks””. */
function ordinal(tree: Tree, key: string): string {
  const spot = tree.spots.get(key);
  if (!spot) return "Something that is no longer here";
  const list = spot.list.at(-1) ?? "";
  const noun = NOUNS[list] ?? list.replaceAll("_", " ");
  const number = tree.shown(spot.parent, spot.list).findIndex((one) => one.key === key) + 1;
  const item = tree.item(key);
  const says = SAYING.map((name) => item[name]).find((text) => typeof text === "string" && text);
  return `${noun.slice(0, 1).toUpperCase()}${noun.slice(1)} ${number}${says ? `, “${says}”` : ""}`;
}

/** Where what is wrong stands: the thing, and the field of it. */
export function flawPlace(tree: Tree, { key, field }: { key: string; field: readonly string[] }): string {
  const name = field.filter((one) => !/^\d+$/.test(one) && (one === ROOT || !tree.items.has(one)));
  const place = placeInWords(tree, key);
  return name.length > 0 ? `${place}, ${fieldInWords(name)}` : place;
}

/** The item of the Symptom page that something belongs to; undefined for what belongs to a step or to the ladder. */
export function symptomItem(tree: Tree, key: string): string | undefined {
  for (let here: string | undefined = key; here; here = tree.spots.get(here)?.parent) {
    if (here === ROOT) return ROOT;
    const spot = tree.spots.get(here);
    if (spot?.parent !== ROOT) continue;
    if (spot.list[0] === "ladder") return undefined;
    if (spot.list[0] !== "steps") return here;
    return tree.item(here).kind === "prevention" ? here : undefined;
  }
  return undefined;
}

function titleOfStep(tree: Tree, step: string): string {
  const found = tree.children(ROOT, ["steps"]).find(({ key, id }) => id === step || key === step);
  return titleOf(found, "A step without a title");
}

/** A value as one reads it. */
export function valueInWords(value: unknown): string {
  if (value == null || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "object" ? "something longer" : String(value);
}
