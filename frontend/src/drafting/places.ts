/** What things of a draft are called on screen: the nearest title around an item, and the name of a field. */
import { ROOT, type Tree } from "../draft/tree";

const FIELDS: Record<string, string> = {
  note: "why it stands here",
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

/** What the nearest thing with a title around an item is called; else the playbook. */
export function placeInWords(tree: Tree, key: string): string {
  for (let here: string | undefined = key; here && here !== ROOT; here = tree.spots.get(here)?.parent) {
    const item = tree.items.get(here);
    if (!item) return "Something that is no longer here";
    if (typeof item.step === "string") return titleOfStep(tree, item.step);
    const title = item.title ?? item.ask;
    if (typeof title === "string" && title) return title;
  }
  return String(tree.root.title ?? "The playbook");
}

function titleOfStep(tree: Tree, step: string): string {
  const found = tree.children(ROOT, ["steps"]).find(({ key, id }) => id === step || key === step);
  return String(found?.title || "A step without a title");
}

/** A value as one reads it. */
export function valueInWords(value: unknown): string {
  if (value == null || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  return typeof value === "object" ? "something longer" : String(value);
}
