/** The rungs of a draft as rows: document, judgement, forecast and evidence of each joined once, in ladder order. */

import type {
  DraftView,
  EstimateView,
  Evidence,
  Forecast,
  Judged,
  Rate,
  RowView,
  Step,
  StepEvidence,
} from "../../api/types";
import { nameOf } from "../../draft/items";
import { type Item, ROOT, type Tree } from "../../draft/tree";
import { count, percent, plural } from "../../ui/format";

export interface RungRowData {
  /** Its key in the working form, the same wherever it moves. */
  key: string;
  row: RowView;
  /** Its step in the working form. */
  item: Item;
  step: Pick<Step, "id" | "title" | "kind" | "fixes">;
  /** Undefined until the figures of a state with this rung are there. */
  judged: Judged | undefined;
  figures: Forecast["rungs"][number] | undefined;
  /** Undefined while no case has tried the step. */
  evidence: StepEvidence | undefined;
  /** What it would end if tried first; undefined until that is estimated. */
  first: Rate | undefined;
}

/** What the cases show of the steps: counted, and estimated. */
export interface Measured {
  evidence: Evidence | undefined;
  estimate: EstimateView | undefined;
}

/** A rung of the main line with the rows that hang on it. */
export interface Block extends RungRowData {
  index: number;
  side: (RungRowData | RailEnd)[];
  /** No unit of the sort by which the ladder is looked at comes to it. */
  isFolded: boolean;
}

/** A row that is no rung: the end of a rail, or the step offered again. */
export interface RailEnd {
  key: string;
  row: RowView;
  step?: undefined;
}

export function blocksOf(draft: DraftView, tree: Tree, { evidence, estimate }: Measured): Block[] {
  const steps = new Map(tree.shown(ROOT, ["steps"]).map((item) => [nameOf(item), item]));
  const counts = new Map(evidence?.rows.map((row) => [row.step, row.counts]));
  const firsts = new Map(estimate?.estimate.steps.map((one) => [one.step, one.first]));
  const figures = new Map([...draft.forecast.rungs, ...draft.forecast.side].map((one) => [one.path, one]));
  const isSeenByUnit = Object.keys(draft.unit).length > 0;
  const blocks: Block[] = [];
  for (const row of draft.rows) {
    const { key } = row;
    const item = row.step ? steps.get(row.step) : undefined;
    const rung =
      row.kind === "rung"
        ? {
            key,
            row,
            item: item ?? NO_STEP,
            step: stepIn(item, row),
            judged: row.judged ?? undefined,
            figures: row.judged ? figures.get(row.path) : undefined,
            evidence: counts.get(row.step ?? ""),
            first: firsts.get(row.step ?? ""),
          }
        : undefined;
    if (row.depth === 0 && rung) {
      const isFolded = isSeenByUnit && rung.figures?.reach === 0;
      blocks.push({ ...rung, index: row.index, side: [], isFolded });
    } else if (!blocks.at(-1)?.isFolded) blocks.at(-1)?.side.push(rung ?? { key, row });
  }
  return blocks;
}

/** What stands for a step that a rung names and nobody has. */
const NO_STEP: Item = { key: "" };

const stepIn = (item: Item | undefined, row: RowView): RungRowData["step"] => ({
  id: row.step ?? "",
  title: row.says,
  kind: (item?.kind as Step["kind"] | undefined) ?? "fix",
  fixes: (item?.fixes as Step["fixes"]) ?? {},
});

/** The rung of that key, on the main line or on a rail. */
export function rungOf(blocks: readonly Block[], key: string | undefined): RungRowData | undefined {
  for (const block of blocks) {
    if (block.key === key) return block;
    for (const side of block.side) if (side.key === key && side.step) return side;
  }
  return undefined;
}

/** Keys of every rung from top to bottom, as the arrow keys go through them. */
export const keysInOrder = (blocks: readonly Block[]): string[] =>
  blocks.flatMap((block) => [block.key, ...block.side.filter((side) => side.step).map((side) => side.key)]);

/** The key of the first row of a step; undefined where it stands nowhere. */
export const keyOfStep = (blocks: Block[], step: string | null): string | undefined =>
  blocks.flatMap((block) => [block, ...block.side]).find((one) => one.step?.id === step)?.key;

/** A rung's figures in one sentence, for those who do not see them drawn. */
export function rungInWords({ step, judged, figures, row }: RungRowData): string {
  const parts = [
    step.kind,
    row.when ? `only when ${row.when}` : "",
    row.footing ? `done with ${row.footing}` : "",
    row.trial ? "tested together with its neighbours" : "",
    figures ? `comes up in ${percent(figures.reach)} of cases` : "its figures are not there yet",
    figures?.resolved ? `resolves ${percent(figures.resolved)}` : "",
    figures?.worked_around ? `works around ${percent(figures.worked_around)}` : "",
    figures?.handed_off ? `hands off ${percent(figures.handed_off)}` : "",
    judged ? plural(Math.round(judged.elapsed), "minute") : "",
    judged ? `risk grade ${count(judged.eased)} of ${count(4)}` : "",
  ];
  return parts.filter(Boolean).join(", ");
}
