/** What the find box offers for some words, each kind apart: symptoms, steps, units, cases, and the log for the rest. */
import type { CaseSummary, SymptomCard } from "../api/types";
import { find, holdsAll } from "./find";

export const FOUND_KINDS = ["Symptoms", "Steps", "Units", "Cases"] as const;

/** The state of an address that is gone to in order to find something. */
export const FINDING = { isFinding: true };

export interface FoundOption {
  kind: (typeof FOUND_KINDS)[number];
  to: string;
  title: string;
  /** What of it matched, or where it belongs. */
  says: string;
}

const MOST = { symptoms: 5, steps: 4, units: 3, cases: 4 };

export function options(symptoms: readonly SymptomCard[], cases: readonly CaseSummary[], words: string): FoundOption[] {
  return [
    ...find(symptoms, words)
      .slice(0, MOST.symptoms)
      .map(
        ({ symptom, because }): FoundOption => ({
          kind: "Symptoms",
          to: `/playbooks/${symptom.id}/ladder`,
          title: symptom.title,
          says: because === symptom.title ? `“${symptom.says}”` : because,
        }),
      ),
    ...steps(symptoms, words),
    ...units(cases, words),
    ...cases.slice(0, MOST.cases).map(
      (one): FoundOption => ({
        kind: "Cases",
        to: `/cases/${encodeURIComponent(one.case)}`,
        title: one.case,
        says: why(one, words),
      }),
    ),
    {
      kind: "Cases",
      to: `/cases?words=${encodeURIComponent(words)}`,
      title: `Every case with “${words}”`,
      says: "in what was said, units, notes",
    },
  ];
}

function steps(symptoms: readonly SymptomCard[], words: string): FoundOption[] {
  const found = symptoms.flatMap((symptom) =>
    symptom.steps
      .filter(({ title }) => holdsAll(title, words))
      .map((step): FoundOption => {
        const to = `/playbooks/${symptom.id}/ladder?step=${encodeURIComponent(step.id)}`;
        return { kind: "Steps", to, title: step.title, says: `on the ladder of ${symptom.title}` };
      }),
  );
  return found.slice(0, MOST.steps);
}

function units(cases: readonly CaseSummary[], words: string): FoundOption[] {
  const found = new Set(cases.flatMap(({ unit }) => (unit && holdsAll(unit, words) ? [unit] : [])));
  return [...found].slice(0, MOST.units).map((unit) => {
    const had = cases.filter((one) => one.unit === unit);
    const says = `last: ${had[0]?.said ? `“${had[0].said}”` : (had[0]?.ended ?? "")}`;
    return { kind: "Units", to: `/cases?words=${encodeURIComponent(unit)}`, title: unit, says };
  });
}

/** What of a case holds the words. */
function why({ said, unit, ended, case: id }: CaseSummary, words: string): string {
  if (said && holdsAll(said, words)) return `“${said}”`;
  if (unit && holdsAll(unit, words)) return `unit ${unit} · ${said ? `“${said}”` : ended}`;
  return holdsAll(id, words) ? (said ? `“${said}”` : ended) : `in its notes · ${said ? `“${said}”` : ended}`;
}
