/** What the evidence says in words. */
import type { Drift, EvidenceRow, HarmSeen, Rate, RisenVersion, Split, StepEstimate } from "../../api/types";
import { count, inMonth, percent, plural } from "../../ui/format";

const HELD_LITTLE = 0.75;
const OFTEN_NOT_DONE = 0.15;

export const range = (rate: Rate) => `${percent(rate.low ?? 0)} to ${percent(rate.high ?? 1)}`;

export const isSaid = (rate: Rate | undefined): rate is Rate & { mean: number } => rate?.mean != null;

/** Why there is no figure. */
export const refusal = (estimate: StepEstimate | undefined): string =>
  estimate?.refused === "unsettled" ? "could not be settled" : "too few cases to say";

/** How `if tried first` was worked out, for whoever asks. */
export function howFirst(estimate: StepEstimate, raw: Rate): string {
  if (!isSaid(estimate.first)) {
    return estimate.refused === "unsettled"
      ? "The chains that draw this figure did not agree, twice: none is shown rather than a wrong one."
      : "Fewer than 30 cases of this symptom count, or the step was tried fewer than 10 times and little was learned.";
  }
  const units = estimate.units < 0.995 ? ` It is for ${percent(estimate.units)} of units.` : "";
  const against = isSaid(raw) ? ` Raw, where it stands now: ${percent(raw.mean)} (${range(raw)}).` : "";
  const sure =
    estimate.learned < 0.5
      ? ` The cases reduced the uncertainty by only ${percent(estimate.learned)}, so this is mostly the lead's judgement.`
      : "";
  return `Tried as the very first thing, it would end ${percent(estimate.first.mean)} of cases (${range(estimate.first)}, 95 % interval).${units}${against}${sure}`;
}

const harmIsMore = ({ kind, rate, expected }: HarmSeen) =>
  `${kind} harm ${percent(rate.mean ?? 0)}, not ${percent(expected ?? 0)}`;

/** What is named of a harm, and what is to be expected of that with its safeguard as often done as it was. */
export function harmNamed({ judged, expected, eased_by }: HarmSeen): string {
  if (judged == null) return "none named";
  return eased_by ? `${percent(expected ?? 0)} expected` : `${percent(judged)} named`;
}

/** How often harm was seen, out of what, and what that is held against. */
export function harmInWords(harm: HarmSeen): string {
  const { kind, seen, asked, rate, judged, eased_by, guarded, expected } = harm;
  const counted = `${kind}: seen ${plural(seen, "time")} in ${plural(asked, "attempt")} after which it was asked about (${range(rate)}, 95 % Jeffreys interval).`;
  if (judged == null) return `${counted} The step names no such hazard.`;
  const named = `${counted} The step names a chance of ${percent(judged)}.`;
  if (!eased_by) return `${named} No safeguard is named for it.`;
  return `${named} Its safeguard had been carried out before ${percent(guarded ?? 0)} of the tries, so that ${percent(expected ?? 0)} are to be expected.`;
}

/** What stands out about a step, the gravest first; nothing where all is as it should be. */
export function notable({ counts, harms }: EvidenceRow, drift: Drift | undefined): string[] {
  const all = counts.tried + counts.done + counts.together + counts.could_not + counts.not_available;
  const lost = counts.could_not + counts.not_available;
  return [
    ...harms.filter(({ is_more }) => is_more).map(harmIsMore),
    ...(drift ? [`works worse since ${inMonth(drift.since)}`] : []),
    ...(counts.judged >= 20 && counts.held / counts.judged < HELD_LITTLE
      ? [`${percent(1 - counts.held / counts.judged)} come back`]
      : []),
    ...(all >= 20 && lost / all > OFTEN_NOT_DONE ? [`${percent(lost / all)} could not be done`] : []),
  ];
}

/** How far apart a step does on some units, in words. */
export const splitInWords = ({ tries, resolved, expected }: Split) =>
  `${count(resolved)} of ${plural(tries, "try", "tries")} resolved, ${count(Math.round(expected))} to be expected`;

/** A version that became common when a step stopped working, and how the step does on it. asks: what it is of. */
export function versionInWords({ value, before, after, split }: RisenVersion, asks = "Version"): string {
  const rose = `Then too, “${asks}” came to be ${value} on ${percent(after)} of units, from ${percent(before)}.`;
  if (!split) return `${rose} Too few tries on it to say more.`;
  return `${rose} On it: ${splitInWords(split)}${split.level ? "" : ", which luck may have made"}.`;
}

/** The steps whose raw rate and chance if tried first lie furthest apart, in one sentence; undefined for none. */
export function apart(rows: EvidenceRow[], estimates: Map<string, StepEstimate>): string | undefined {
  const gaps = rows.flatMap((row) => {
    const first = estimates.get(row.step)?.first;
    const { raw } = row.counts;
    if (!isSaid(first) || !isSaid(raw) || row.counts.tried < 20 || !row.title) return [];
    const isApart = (first.high ?? 1) < (raw.low ?? 0) || (first.low ?? 0) > (raw.high ?? 1);
    return isApart ? [{ title: row.title, gap: raw.mean - first.mean, raw: raw.mean, first: first.mean }] : [];
  });
  const easy = gaps.toSorted((a, b) => b.gap - a.gap)[0];
  const hard = gaps.toSorted((a, b) => a.gap - b.gap)[0];
  const says = [
    easy && easy.gap > 0
      ? `“${easy.title}” lives on easy cases: of those that come to it ${percent(easy.raw)} end, of all it would end ${percent(easy.first)} if tried first.`
      : "",
    hard && hard.gap < 0
      ? `“${hard.title}” is better than it looks: ${percent(hard.raw)} where it stands, ${percent(hard.first)} if tried first.`
      : "",
  ].filter(Boolean);
  return says.length > 0 ? says.join(" ") : undefined;
}
