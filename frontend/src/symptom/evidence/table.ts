/** The table of evidence as a file that any spreadsheet reads. */

import type { EvidenceRow, Rate, StepEstimate } from "../../api/types";
import { csvText } from "../../ui/csv";
import { cameUp } from "./nested";

const HEAD = [
  "rung", "step", "kind", "came up", "tried", "resolved", "judged", "held", "raw", "raw low", "raw high",
  "if tried first", "first low", "first high", "here", "here low", "here high", "learned", "could not",
  "not available", "nothing to do", "skipped", "median minutes", "judged minutes", "of",
]; // biome-ignore format: one column a name

const rate = (one: Rate | undefined) => [one?.mean, one?.low, one?.high].map((n) => (n == null ? "" : n.toFixed(4)));

/** One line a step, as RFC 4180 has it; cells that a spreadsheet would take for formulas are marked as text. says: of
    which cases the figures are. */
export function asCsv(rows: EvidenceRow[], estimates: Map<string, StepEstimate>, says: string): string {
  const lines = rows.map(({ step, title, kind, label, counts, minutes }) => {
    const estimate = estimates.get(step);
    return [
      label ?? "", title ?? step, kind ?? "", cameUp(counts), counts.tried, counts.resolved, counts.judged,
      counts.held, ...rate(counts.raw), ...rate(estimate?.first), ...rate(estimate?.here),
      estimate?.learned.toFixed(4) ?? "", counts.could_not, counts.not_available, counts.nothing_to_do,
      counts.skipped, minutes?.median.toFixed(2) ?? "", minutes?.judged.toFixed(2) ?? "", says,
    ]; // biome-ignore format: one column a name
  });
  return csvText([HEAD, ...lines]);
}
