/** The draft as it is shown: figures of the newest revision that has some, in the order and with the texts that the
 * working form has by now. */
import type { DraftFigures, DraftView, RowView } from "../api/types";
import type { Item, Tree } from "../draft/tree";
import { ROOT } from "../draft/tree";
import { mainLine } from "./moves";

/** isBehind: the figures are those of an earlier state than the one that is shown. */
export function shownView(figures: DraftFigures, tree: Tree, isBehind: boolean): DraftView {
  const line = mainLine(tree);
  const now = line.filter((key) => figures.rows.some((row) => row.depth === 0 && row.key === key));
  const was = figures.rows.filter((row) => row.depth === 0).map((row) => row.key);
  const titles = titlesOf(tree);
  const isSame = now.length === was.length && now.every((key, index) => was[index] === key);
  if (isSame) {
    const rows = figures.rows.map((row) => withTexts(row, tree, titles));
    const isAsBefore = rows.every((row, index) => row === figures.rows[index]);
    return { ...figures, rows: isAsBefore ? figures.rows : rows, isBehind };
  }
  const place = new Map(was.map((key, index) => [index, now.indexOf(key)]));
  const rows = now.flatMap((key, index) =>
    figures.rows.filter((row) => was[row.index] === key).map((row) => withTexts(placed(row, index), tree, titles)),
  );
  const paths = <T extends { path: string }>(ones: readonly T[]): T[] =>
    ones.flatMap((one) => {
      const [from = 0, ...rest] = one.path.split(".").slice(1);
      const to = place.get(Number(from)) ?? -1;
      return to < 0 ? [] : [{ ...one, path: ["ladder", to, ...rest].join(".") }];
    });
  const { forecast, playbook } = figures;
  const ladder = now.flatMap((key) => playbook.ladder[was.indexOf(key)] ?? []);
  const rungs = paths(forecast.rungs).sort((one, other) => indexOf(one.path) - indexOf(other.path));
  return {
    ...figures,
    rows,
    playbook: { ...playbook, ladder },
    forecast: { ...forecast, rungs, side: paths(forecast.side) },
    isBehind,
  };
}

const indexOf = (path: string) => Number(path.split(".")[1]);

function placed(row: RowView, index: number): RowView {
  if (row.index === index) return row;
  const path = ["ladder", index, ...row.path.split(".").slice(2)].join(".");
  return { ...row, index, path, label: row.label.replace(/^\d+/, String(index + 1)) };
}

function titlesOf(tree: Tree): Map<string, string> {
  const steps = tree.children(ROOT, ["steps"]);
  return new Map(steps.map((step) => [String(step.name ?? step.id ?? step.key), String(step.title ?? "")]));
}

/** The row with the texts that stand in the working form by now. */
function withTexts(row: RowView, tree: Tree, titles: Map<string, string>): RowView {
  const item: Item | undefined = tree.items.get(row.key);
  if (!item) return row;
  const note = typeof item.note === "string" ? item.note : null;
  const says = (row.step && titles.get(row.step)) || row.says;
  return note === row.note && says === row.says ? row : { ...row, note, says };
}
