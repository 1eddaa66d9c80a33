/** The rungs of a draft as rows: document, judgement, forecast and evidence of each joined once, in ladder order. */
import type { DraftView, Evidence, Forecast, Judged, Rung, Step, StepEvidence } from "../api/types";

export interface RungRowData {
  /** The same for a rung wherever it moves: its step, and which of the rungs with that step it is. */
  key: string;
  index: number;
  rung: Rung;
  step: Step;
  judged: Judged;
  figures: Forecast["rungs"][number];
  /** Undefined while no case has tried the step. */
  evidence: StepEvidence | undefined;
}

export function rungKeys(draft: DraftView): string[] {
  const seen = new Map<string, number>();
  return draft.playbook.ladder.map(({ step }) => {
    const number = (seen.get(step) ?? 0) + 1;
    seen.set(step, number);
    return `${step}#${number}`;
  });
}

export function rungRows(draft: DraftView, evidence: Evidence | undefined): RungRowData[] {
  const steps = new Map(draft.playbook.steps.map((step) => [step.id, step]));
  const counts = new Map(evidence?.rows.map((row) => [row.step, row.counts]));
  const keys = rungKeys(draft);
  return draft.playbook.ladder.flatMap((rung, index) => {
    const step = steps.get(rung.step);
    const judged = draft.judged[index];
    const figures = draft.forecast.rungs[index];
    const key = keys[index];
    return step && judged && figures && key
      ? [{ key, index, rung, step, judged, figures, evidence: counts.get(rung.step) }]
      : [];
  });
}

/** Where a rung stands after moving by so many places, kept on the ladder. */
export const placeAfter = (index: number, by: number, count: number) => Math.min(Math.max(index + by, 0), count - 1);

/** A rung's figures in one sentence, for those who do not see them drawn. */
export function inWords({ step, judged, figures, rung }: RungRowData): string {
  const share = (x: number) => `${Math.round(x * 100)} %`;
  const parts = [
    step.kind,
    rung.when ? `only when ${rung.when}` : "",
    `comes up in ${share(figures.reach)} of cases`,
    figures.resolved ? `resolves ${share(figures.resolved)}` : "",
    figures.worked_around ? `works around ${share(figures.worked_around)}` : "",
    `${Math.round(judged.elapsed)} minutes`,
    `risk grade ${judged.eased} of 4`,
  ];
  return parts.filter(Boolean).join(", ");
}
