/** What an item of a working form holds, read by kind: a field may be missing, half typed, or of another sort. */
import { type Item, listsIn } from "./tree";

/** The working form as the server sends it. Throws an Error with a plain sentence where it is none. */
export function formOf(sent: unknown): Item {
  const waiting = [sent];
  for (let here = waiting.pop(); here !== undefined; here = waiting.pop()) {
    if (!isItem(here)) throw new Error("The draft came in a shape that this page cannot read; load the page again");
    for (const [, children] of listsIn(here)) waiting.push(...children);
  }
  return sent as Item;
}

const isItem = (value: unknown): value is Item =>
  typeof value === "object" && value !== null && "key" in value && typeof value.key === "string";

/** A field as text; empty where there is nothing. */
export function textOf(item: Item | undefined, name: string): string {
  const value = item?.[name];
  return value == null ? "" : String(value);
}

/** A field that holds values by name, such as shares by cause. */
export function valuesOf(item: Item | undefined, name: string): Readonly<Record<string, unknown>> {
  const value = item?.[name];
  return typeof value === "object" && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
}

/** What a fact can be, with the share of each, as choices or as shares say it. */
export function spreadOf(item: Item | undefined): Readonly<Record<string, number>> {
  const found = Object.entries(valuesOf(item, item?.choices ? "choices" : "shares"));
  return Object.fromEntries(found.map(([value, share]) => [value, Number(share)]));
}

/** The title of a step, a finding, a team; the question of a fact or a condition. */
export const titleOf = (item: Item | undefined, absent = "without a title"): string =>
  textOf(item, "title") || textOf(item, "ask") || absent;

/** The kind of a step: a fix, as long as nothing else is said. */
export const kindOf = (item: Item | undefined): string => textOf(item, "kind") || "fix";

/** What an item is called by where something else names it: the id that it came with, or its key. */
export const refOf = (item: Item): string => textOf(item, "id") || item.key;

/** What figures of the draft call it by. */
export const nameOf = (item: Item): string => textOf(item, "name") || refOf(item);
