import type { ReactNode } from "react";
import type { DraftView, Forecast } from "../api/types";
import { Asked } from "../ui/Asked";
import { difference, harmInWords, percent, points, tenths } from "../ui/format";

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
}

interface TotalsProps {
  draft: DraftView;
  /** Where something is not sound yet: figures are made with what stood there before, or without it. */
  unsound?: readonly string[];
  /** The sort of unit that they are figures of, in words; none: of all. */
  unit?: string | undefined;
  children?: ReactNode;
}

/** What the ladder costs and ends a case, and what the draft changes against the newest edition. */
export const Totals = ({ draft, unsound = [], unit, children }: TotalsProps) => (
  <section
    aria-label="Totals"
    data-behind={draft.isBehind || undefined}
    className="group/totals flex shrink-0 flex-wrap items-start gap-x-10 gap-y-2 border-rule border-b px-6 py-2.5 max-md:px-4 low:items-center low:gap-x-6 low:py-1.5"
  >
    {totals(draft.forecast, draft.published?.forecast).map((total) => (
      <Asked key={total.label} how={total.how} className="min-w-36 low:min-w-0">
        <span className="block text-dense text-faint">{total.label}</span>
        <span className="font-bold text-title group-data-[behind]/totals:text-faint low:text-lead">{total.value}</span>
        {!unit && draft.published && !draft.is_published && !draft.isBehind && <Delta total={total} />}
      </Asked>
    ))}
    <div className="ml-auto flex items-center gap-4 self-center">
      <p
        data-told={unsound.length > 0 || undefined}
        className="max-w-52 text-right text-dense text-faint max-xl:not-data-told:sr-only"
      >
        {basis(draft, unsound, unit)}
      </p>
      {children}
    </div>
  </section>
);

/** What the figures are figures of. */
function basis(draft: DraftView, unsound: readonly string[], unit: string | undefined): string {
  if (draft.isBehind) return "Of the state before; the new figures follow";
  if (unsound.length > 0) return `With what stood before, or without it, in: ${unsound.join(", ")}`;
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

function totals(now: Forecast, before: Forecast | undefined): Total[] {
  const delta = (pick: (forecast: Forecast) => number) => (before ? pick(now) - pick(before) : 0);
  const here = (forecast: Forecast) => forecast.resolved + forecast.worked_around;
  const around = now.worked_around > 0 ? ` ${percent(now.worked_around)} of them by a workaround.` : "";
  const share = (size: number) => `${tenths(size * 100)} points`;
  return [
    {
      label: "Effort a case",
      value: `${tenths(now.effort)} min`,
      delta: delta((f) => f.effort),
      amount: (size) => tenths(size),
      least: 0.05,
      isLessBetter: true,
      how: `Expected effort minutes a case, worked out exactly over all causes: hands-on, waiting, journeys and parts under the desk's weights. On the clock: ${tenths(now.elapsed)} minutes.`,
    },
    {
      label: "Harm points a case",
      value: points(now.harm),
      delta: delta((f) => f.harm),
      amount: (size) => points(size),
      least: 0.005,
      isLessBetter: true,
      how: `Expected harm points a case: each step's severity times its chance, less where it can be undone or a safeguard above eases it. ${harmInWords(now.harm)}`,
    },
    {
      label: "Resolved here",
      value: percent(here(now)),
      delta: delta(here),
      amount: share,
      least: 0.0005,
      isLessBetter: false,
      how: `Expected share of cases that the ladder resolves or works around.${around}`,
    },
    {
      label: "Handed off",
      value: percent(now.handed_off),
      delta: delta((f) => f.handed_off),
      amount: share,
      least: 0.0005,
      isLessBetter: true,
      how: "Expected share of cases that come out at the foot of the ladder and are handed off.",
    },
  ];
}
