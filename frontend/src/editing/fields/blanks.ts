/** Blanks in texts as one types them: {Lane number} where the draft holds {lane}. */
import { refOf, spreadOf, textOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import type { Way } from "../../draft/useDraft";
import { partOf } from "./ways";

const BLANK = /\{(not )?([^{}]*)\}/g;

/** What needs nobody to say it. */
const OF_THE_DAY: Item[] = ["today", "month"].map((name) => ({ key: name, id: name, ask: name }));

/** Everything that can fill a blank of the step's texts: what is asked, what a search finds, and the day. */
export function fillers(tree: Tree, step: string | undefined): Item[] {
  const searched = tree.shown(ROOT, ["steps"]).flatMap((one): Item[] => {
    const name = tree.value(one.key, ["search"]) && partOf(tree.value(one.key, ["search"]), ["found"]);
    return typeof name === "string" && name ? [{ key: name, id: name, ask: name.replaceAll("-", " ") }] : [];
  });
  return [...asked(tree, step), ...searched, ...OF_THE_DAY];
}

/** Everything that is asked: by the step, about the unit, and by other steps. */
export function asked(tree: Tree, step: string | undefined): Item[] {
  const steps = tree.shown(ROOT, ["steps"]);
  const own = step ? tree.shown(step, ["inputs"]) : [];
  const others = steps.flatMap((one) => (one.key === step ? [] : tree.shown(one.key, ["inputs"])));
  return [...own, ...tree.shown(ROOT, ["facts"]), ...others];
}

const askOf = (item: Item) => (typeof item.ask === "string" && item.ask ? item.ask : undefined);

/** How texts with blanks are shown and kept. */
export const withBlanks = (items: readonly Item[]): Way => ({
  read: (value) =>
    (value == null ? "" : String(value)).replace(BLANK, (all, not: string | undefined, ref: string) => {
      const title = items
        .map((one) => (one.id === ref || one.key === ref || one.name === ref ? askOf(one) : undefined))
        .find(Boolean);
      return title && !/[{}]/.test(title) ? `{${not ?? ""}${title}}` : all;
    }),
  write: (text) =>
    text.replace(BLANK, (all, not: string | undefined, title: string) => {
      const found = items.find((one) => askOf(one) === title);
      return found ? `{${not ?? ""}${refOf(found)}}` : all;
    }) || null,
});

/** How a sum over values is shown and kept: each value by what it is called, in curly brackets. */
export const withNames = (items: readonly Item[]): Way => ({
  read: (value) =>
    (value == null ? "" : String(value)).replace(/[A-Za-z][\w-]*/g, (ref) => {
      const title = items
        .map((one) => ([one.id, one.key, one.name].includes(ref) ? askOf(one) : undefined))
        .find(Boolean);
      return title ? `{${title}}` : ref;
    }),
  write: (text) =>
    text.replace(/\{([^{}]*)\}/g, (all, title: string) => {
      const found = items.find((one) => askOf(one) === title);
      return found ? refOf(found) : all;
    }) || null,
});

/** The blank under the cursor that is not closed yet, with what may fill it. */
export function offered(
  text: string,
  cursor: number,
  items: readonly Item[],
): { from: number; titles: string[] } | undefined {
  const from = text.lastIndexOf("{", cursor - 1);
  if (from < 0 || /[{}]/.test(text.slice(from + 1, cursor))) return undefined;
  const begun = text
    .slice(from + 1, cursor)
    .replace(/^not /, "")
    .toLowerCase();
  const titles = items.flatMap((one) => askOf(one) ?? []).filter((title) => title.toLowerCase().includes(begun));
  return titles.length > 0 ? { from, titles: [...new Set(titles)].slice(0, 8) } : undefined;
}

/** A text as it may stand before an agent: each blank holds the commonest value of what fills it, or says what is missing. */
export const sampled =
  (items: readonly Item[]) =>
  (text: string): string =>
    text.replace(BLANK, (_, not: string | undefined, ref: string) => {
      const item = items.find((one) => [one.id, one.key, one.name].includes(ref));
      const values = item ? valuesOf(item) : [];
      const value = not ? values[1] : values[0];
      return value ?? `‹${(item && askOf(item)) ?? ref}›`;
    });

/** The values that something can have, the commonest first. */
function valuesOf(item: Item): string[] {
  if (Array.isArray(item.options)) return item.options.map((one) => textOf(one, "text") || String(one));
  const spread = Object.entries(spreadOf(item));
  return spread.toSorted(([, one], [, other]) => other - one).map(([value]) => value);
}
