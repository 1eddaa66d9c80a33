import type { ReactNode } from "react";
import type { DraftView, Forecast, LearnedFigures } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { count, difference, isClear, moreOrLess, percent, points, type Span, tenths, turned } from "../../ui/format";
import { useIsWide } from "../../ui/useWidth";
import { harmPictured } from "./harm";

interface Total {
  label: string;
  value: string;
  delta: number;
  /** The difference in words, for an amount that is never negative. */
  amount: (difference: number) => string;
  /** Differences smaller than this do not show. */
  least: number;
  isLessBetter: boolean;
  how: string;
  /** The same by what the cases have taught, and how it differs from the edition. */
  taught: (learned: LearnedFigures) => Taught;
}

interface Taught {
  value: string;
  range: string;
  says: string;
}

interface TotalsProps {
  draft: DraftView;
  /** Where something is not sound yet: figures are made with what stood there before, or without it. */
  unsound?: readonly string[];
  /** The sort of unit that they are figures of, in words; none: of all. */
  unit?: string | undefined;
  /** What the cases have taught; none while that is worked out, when its line is kept free, or too few have. */
  learned?: LearnedFigures | undefined;
  /** The choice by what the figures are. */
  by?: ReactNode;
  children?: ReactNode;
}

/** What the ladder costs and ends a case, and what the draft changes against the newest edition. */
export const Totals = ({ draft, unsound = [], unit, learned, by, children }: TotalsProps) => {
  const isWide = useIsWide("80rem");
  const says = basis(draft, unsound, unit);
  const isTold = unsound.length > 0;
  return (
    <section
      aria-label="Totals"
      data-behind={draft.isBehind || undefined}
      className="group/totals flex shrink-0 flex-wrap items-start gap-x-8 gap-y-2 border-rule border-b px-6 py-2.5 max-xl:gap-x-4 max-md:px-4 low:items-center low:gap-x-6 low:py-1.5"
    >
      {totals(draft.forecast, draft.published?.forecast).map((total) => (
        <Asked
          key={total.label}
          how={learned ? `${total.how} ${total.taught(learned).says}` : total.how}
          className="min-w-36 max-xl:min-w-32 low:min-w-0"
        >
          <span className="block text-dense text-faint">{total.label}</span>
          <span className="font-bold text-title group-data-[behind]/totals:text-faint low:text-lead">
            {total.value}
          </span>
          {!unit && draft.published && !draft.is_published && !draft.isBehind && <Delta total={total} />}
          {(learned || by) && (
            <span className="block min-h-[1lh] text-plum text-tiny group-data-[behind]/totals:text-faint low:hidden">
              {learned &&
                (draft.taught_by == null ? `cases say ${total.taught(learned).value}` : total.taught(learned).range)}
            </span>
          )}
        </Asked>
      ))}
      <div className="ml-auto flex items-center gap-4 self-center max-xl:gap-3">
        <div className="text-right text-dense">
          {(isWide || !isTold) && <p className="max-w-60 text-faint max-xl:sr-only">{says}</p>}
          {by}
        </div>
        {children}
      </div>
      {!isWide && isTold && <p className="basis-full text-dense text-faint">{says}</p>}
    </section>
  );
};

/** What the figures are figures of. */
function basis(draft: DraftView, unsound: readonly string[], unit: string | undefined): string {
  if (draft.isBehind) return "Figures of the previous state; new ones are being worked out";
  if (unsound.length > 0) return `Using the last sound value, or leaving it out: ${unsound.join(", ")}`;
  if (unit) return `As ${unit} meets it`;
  if (!draft.published) return "Not published yet: agents cannot follow it";
  if (draft.is_published) return `This is edition ${draft.published.number}, as agents follow it`;
  return `Differences are against edition ${draft.published.number}; its outline is dotted`;
}

const Delta = ({ total }: { total: Total }) => {
  const isBetter = total.delta < 0 === total.isLessBetter;
  const tone = Math.abs(total.delta) < total.least ? "text-faint" : isBetter ? "text-moss" : "text-clay";
  return <span className={`ml-2 text-dense ${tone}`}>{difference(total.delta, total.least, total.amount)}</span>;
};

/** A figure by what the cases have taught, and whether this draft is better than the edition by it. more: what it has
 * more than the edition. */
function taughtOf(
  figure: Span,
  more: Span | null | undefined,
  least: number,
  inWords: (n: number) => string,
  unit: string,
  cases: number,
  differs = inWords,
): Taught {
  const range = `${inWords(figure.low)} to ${inWords(figure.high)}`;
  const value = `${inWords(figure.mean)} (${range})`;
  const against = more
    ? ` Against the edition, in ${unit}: ${moreOrLess(more, least, differs)}.${
        isClear(more) ? "" : " The cases do not tell which of the two is better."
      }`
    : "";
  return {
    value,
    range,
    says: `Learned from ${count(cases)} cases: ${value} ${unit}, 95 % interval.${against}`,
  };
}

const share = (size: number) => `${tenths(size * 100)} points`;

const lessOf = (less: Span | null | undefined) => less && turned(less);

function totals(now: Forecast, before: Forecast | undefined): Total[] {
  const delta = (pick: (forecast: Forecast) => number) => (before ? pick(now) - pick(before) : 0);
  const here = (forecast: Forecast) => forecast.resolved + forecast.worked_around;
  const around = now.worked_around > 0 ? ` ${percent(now.worked_around)} of them by a workaround.` : "";
  return [
    {
      label: "Effort a case",
      value: `${tenths(now.effort)} min`,
      delta: delta((f) => f.effort),
      amount: (size) => tenths(size),
      least: 0.05,
      isLessBetter: true,
      taught: (learned) =>
        taughtOf(learned.effort, lessOf(learned.less_effort), 0.05, tenths, "minutes", learned.cases),
      how: `Expected effort minutes a case, worked out exactly over all causes: hands-on, waiting, journeys and parts under the desk's weights. On the clock: ${tenths(now.elapsed)} minutes.`,
    },
    {
      label: "Harm points a case",
      value: points(now.harm),
      delta: delta((f) => f.harm),
      amount: (size) => points(size),
      least: 0.005,
      isLessBetter: true,
      taught: (learned) =>
        taughtOf(learned.harm, lessOf(learned.less_harm), 0.005, points, "harm points", learned.cases),
      how: `Expected harm points a case: each step's severity times its chance, less where it can be undone or a safeguard above eases it. ${harmPictured(now.harm)}`,
    },
    {
      label: "Resolved here",
      value: percent(here(now)),
      delta: delta(here),
      amount: share,
      least: 0.0005,
      isLessBetter: false,
      taught: (learned) =>
        taughtOf(learned.resolved, learned.more_resolved, 0.0005, percent, "of cases", learned.cases, share),
      how: `Expected share of cases that the ladder resolves or works around.${around}`,
    },
    {
      label: "Handed off",
      value: percent(now.handed_off),
      delta: delta((f) => f.handed_off),
      amount: share,
      least: 0.0005,
      isLessBetter: true,
      taught: (learned) => taughtOf(learned.handed_off, null, 0.0005, percent, "of cases", learned.cases),
      how: "Expected share of cases that come out at the foot of the ladder and are handed off.",
    },
  ];
}
