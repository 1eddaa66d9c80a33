/** The sort of unit by which a ladder is looked at: which facts can be said of it, and how that is put in words. */
import { refOf, spreadOf, textOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import { factInWords } from "../../editing/fields/values";
import { percent } from "../../ui/format";

export interface LensFact {
  /** As files and addresses name it. */
  name: string;
  asks: string;
  type: unknown;
  /** What it can be; none: anything of its type. */
  values: string[];
  /** The value that is looked at; empty: all. */
  value: string;
}

export function lensFacts(tree: Tree, unit: readonly string[]): LensFact[] {
  const known = new Map(unit.map((one): [string, string] => split(one)));
  return tree.shown(ROOT, ["facts"]).map((fact) => {
    const name = refOf(fact);
    return {
      name,
      asks: textOf(fact, "ask"),
      type: fact.type,
      values: valuesOf(fact),
      value: known.get(name) ?? "",
    };
  });
}

function valuesOf(fact: Item): string[] {
  if (fact.type === "yes-no") return ["yes", "no"];
  return Object.keys((fact.choices ?? fact.shares ?? {}) as object);
}

/** The same with one fact known otherwise. */
export function unitWithValue(unit: readonly string[], name: string, value: string): string[] {
  const others = unit.filter((one) => split(one)[0] !== name);
  return value ? [...others, `${name}:${value}`] : others;
}

/** Such as “a GR4, Vane Island” with the share of units that are so, where that is known. */
export function unitInWords(tree: Tree, unit: readonly string[]): string | undefined {
  if (unit.length === 0) return undefined;
  const facts = new Map(tree.shown(ROOT, ["facts"]).map((fact) => [refOf(fact), fact]));
  let share: number | undefined = 1;
  for (const one of unit) {
    const [name, value] = split(one);
    const fact = facts.get(name);
    const part = spreadOf(fact)[value];
    share = share !== undefined && part !== undefined ? share * part : undefined;
  }
  const said = unit.map((one) => factInWords(facts.get(split(one)[0])?.type, split(one)[1])).join(", ");
  return `“${said}”${share === undefined ? "" : `, ${percent(share)} of units,`}`;
}

function split(one: string): [string, string] {
  const at = one.indexOf(":");
  return [one.slice(0, at), one.slice(at + 1)];
}
