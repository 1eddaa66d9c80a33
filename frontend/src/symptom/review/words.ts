/** Findings of review by row of the ladder, and what the levels are called. */
import type { ReviewFinding } from "../../api/types";

export type Level = ReviewFinding["level"];

const RANK: Record<Level, number> = { blocker: 0, warning: 1, hint: 2 };
export const LEVELS: { level: Level; one: string; many: string }[] = [
  { level: "blocker", one: "blocker", many: "blockers" },
  { level: "warning", one: "warning", many: "warnings" },
  { level: "hint", one: "hint", many: "hints" },
];

/** The gravest level of each row that has a finding; hints mark no row. */
export function levelsByRow(findings: readonly ReviewFinding[]): Map<string, Level> {
  const found = new Map<string, Level>();
  for (const { rung, level } of findings) {
    if (!rung || level === "hint") continue;
    const known = found.get(rung);
    if (!known || RANK[level] < RANK[known]) found.set(rung, level);
  }
  return found;
}

/** How many flaws, and findings of each level, in words: "1 flaw, 2 warnings". */
export function counted(findings: readonly ReviewFinding[], flaws = 0): string {
  const some = (count: number, one: string, many: string) =>
    count === 0 ? "" : `${count} ${count === 1 ? one : many}`;
  const parts = LEVELS.map(({ level, one, many }) =>
    some(findings.filter((finding) => finding.level === level).length, one, many),
  );
  parts.unshift(some(flaws, "flaw", "flaws"));
  return parts.filter(Boolean).join(", ") || "nothing to say";
}
