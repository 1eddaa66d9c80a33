/** The draft as it is shown: every row of the working form as it stands by now, each with the figures of the newest
 * revision that has some. */

import type { DraftFigures, DraftView, Forecast, RowView } from "../../api/types";
import { nameOf, textOf, titleOf, valuesOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import { itemNamed, stepOf } from "../../editing/fields/operations";
import { OUTCOMES } from "../../editing/fields/words";

type RungFigures = Forecast["rungs"][number];

/** isBehind: the figures are those of an earlier state than the one that is shown. */
export function shownView(figures: DraftFigures, tree: Tree, isBehind: boolean): DraftView {
  const known = new Map(figures.rows.map((row) => [row.key, row]));
  const rows = rowsOf(tree).map((row) => asBefore(withFigures(row, known.get(row.key)), known.get(row.key)));
  const isAsBefore = rows.length === figures.rows.length && rows.every((row, index) => row === figures.rows[index]);
  const keys = Object.fromEntries(figures.rows.map(({ path, key }) => [path, key]));
  if (isAsBefore) return { ...figures, keys, isBehind };
  return { ...figures, rows, keys, forecast: forecastOf(figures, rows), isBehind };
}

/** The rows of the working form, without figures. */
export function rowsOf(tree: Tree): RowView[] {
  return tree.shown(ROOT, ["ladder"]).flatMap((rung, index) => {
    const main = rowOf(tree, rung, { path: `ladder.${index}`, depth: 0, index, label: String(index + 1), via: null });
    const side = sideRows(tree, rung, main.path, 1, index);
    return [main, ...side.map((row, place) => ({ ...row, label: `${index + 1}${letters(place)}` }))];
  });
}

function sideRows(tree: Tree, host: Item, path: string, depth: number, index: number): RowView[] {
  return railsOf(tree, host).flatMap(({ called, says, entries }) =>
    entries.flatMap((entry, number) => {
      const at = { path: `${path}.on.${called}.${number}`, depth, index, label: "", via: number === 0 ? says : null };
      return [rowOf(tree, entry, at), ...sideRows(tree, entry, `${path}.on.${called}.${number}`, depth + 1, index)];
    }),
  );
}

export interface Rail {
  /** What it hangs on: an outcome, or the key of a finding. */
  name: string;
  /** The same, as files name it. */
  called: string;
  says: string;
  entries: Item[];
}

/** The side rails of a rung that hold something in sight. */
export function railsOf(tree: Tree, rung: Item): Rail[] {
  const on = valuesOf(rung, "on") as Record<string, Item[]>;
  return Object.keys(on).flatMap((name) => {
    if (tree.items.has(name) && !tree.inSight(name)) return [];
    const entries = tree.shown(rung.key, ["on", name]);
    const finding = tree.items.get(name);
    const called = finding ? nameOf(finding) : name;
    return entries.length > 0 ? [{ name, called, says: railInWords(tree, name), entries }] : [];
  });
}

const SHORT: Record<string, string> = {
  worse: "Worse",
  "could-not": "Could not be done",
  "not-available": "Not there on the unit",
  "nothing-to-do": "Nothing to do",
  restored: "Restored",
};

/** What opens a rail, in words. */
export function railInWords(tree: Tree, name: string): string {
  const finding = tree.items.get(name);
  if (finding) return titleOf(finding, "a finding without a title");
  return SHORT[name] ?? OUTCOMES.find(({ value }) => value === name)?.label ?? name;
}

type At = Pick<RowView, "path" | "depth" | "index" | "label" | "via">;

function rowOf(tree: Tree, entry: Item, at: At): RowView {
  const step = stepOf(tree, entry);
  const team = itemNamed(tree, "hand_offs", entry.hand_off);
  const text = (value: unknown) => (typeof value === "string" && value ? value : null);
  const kind =
    entry.again === true ? "again" : entry.hand_off != null ? "hand-off" : entry.playbook != null ? "playbook" : "rung";
  const says = {
    again: "Offer it once more",
    "hand-off": titleOf(team, "a team that is no longer there"),
    playbook: textOf(entry, "playbook"),
    rung: titleOf(step, "A step without a title"),
  }[kind];
  return {
    ...at,
    key: entry.key,
    kind,
    says,
    step: kind === "rung" ? (step ? nameOf(step) : textOf(entry, "step")) : null,
    when: text(entry.when),
    note: text(entry.note),
    footing: textOf(itemNamed(tree, "footings", step?.footing), "title") || null,
    trial: text(entry.trial),
    varies: step ? tree.shown(step.key, ["varies"]).map((one) => textOf(one, "when")) : [],
    judged: null,
  };
}

/** What the server alone can say of a row: its judgement, and conditions in words. */
function withFigures(row: RowView, known: RowView | undefined): RowView {
  if (!known || known.step !== row.step) return row;
  const { judged, varies } = known;
  return { ...row, judged, varies, when: row.when === null ? null : (known.when ?? row.when) };
}

/** The very row that was there, where nothing of it differs: it is not drawn anew. */
function asBefore(row: RowView, known: RowView | undefined): RowView {
  const names = Object.keys(row) as (keyof RowView)[];
  return known && names.every((name) => row[name] === known[name]) ? known : row;
}

/** The forecast by where rungs stand now; a rung that is not in it takes the share of the one above and ends nothing. */
function forecastOf(figures: DraftFigures, rows: readonly RowView[]): Forecast {
  const { forecast } = figures;
  const keys = new Map(figures.rows.map(({ path, key }) => [path, key]));
  const byKey = new Map([...forecast.rungs, ...forecast.side].map((one) => [keys.get(one.path) ?? "", one]));
  const rungs: RungFigures[] = [];
  const side: RungFigures[] = [];
  for (const { key, path, depth, step, kind } of rows) {
    const found = byKey.get(key);
    if (depth > 0) {
      if (found) side.push({ ...found, path });
    } else if (kind === "rung") rungs.push(found ? { ...found, path } : nothing(path, step ?? "", rungs.at(-1)));
  }
  return { ...forecast, rungs, side };
}

const nothing = (path: string, step: string, above: RungFigures | undefined): RungFigures => ({
  path,
  step,
  arriving: above?.arriving ?? 1,
  reach: above?.arriving ?? 1,
  resolved: 0,
  worked_around: 0,
  handed_off: 0,
  sent_on: 0,
  effort: 0,
  harm: 0,
});

/** a to z, then aa, ab and so on. */
function letters(number: number): string {
  const first = Math.floor(number / 26);
  return (first > 0 ? letters(first - 1) : "") + String.fromCharCode(97 + (number % 26));
}
