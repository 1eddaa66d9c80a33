import { type ComponentProps, type ReactNode, useRef } from "react";
import type { EstimateView, Evidence, Rate } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { ColumnNames } from "../../ui/ColumnNames";
import { count, percent, thousandths } from "../../ui/format";
import { RateAxis } from "../../ui/RateAxis";
import { saveText } from "../../ui/save";
import { EvidenceChart } from "./EvidenceChart";
import { SaveLinks } from "./SaveLinks";
import { SpentCurve } from "./SpentCurve";
import { TakeShares } from "./TakeShares";
import { asCsv } from "./table";
import { isSaid, range } from "./words";

const AXIS = 120;

interface UnderneathProps {
  evidence: Evidence;
  view: EstimateView | undefined;
  /** Which cases it speaks of. */
  says: string;
}

/** Below the table: how common each cause is, what clears by itself, and the file. */
export const Underneath = ({ evidence, view, says }: UnderneathProps) => {
  const known = evidence.rows.filter(({ kind }) => kind != null);
  const estimates = new Map(view?.estimate.steps.map((one) => [one.step, one]));
  const drawing = useRef<SVGSVGElement>(null);
  return (
    <div className="relative mt-3 flex flex-col gap-3">
      <div className="sr-only">
        <EvidenceChart drawing={drawing} title={evidence.title} says={says} rows={known} estimates={estimates} />
      </div>
      <div className="flex flex-wrap gap-x-12 gap-y-3">
        {view && view.estimate.refused == null && <Causes view={view} playbook={evidence.playbook} />}
        {view && view.estimate.refused == null && <Units view={view} playbook={evidence.playbook} />}
        {view && <SpentCurve spent={view.spent} playbook={evidence.playbook} />}
      </div>
      <p className="flex flex-wrap gap-x-6 gap-y-1 text-dense">
        <button
          type="button"
          className="link"
          onClick={() => saveText(`${evidence.playbook}-evidence.csv`, asCsv(known, estimates, says), "text/csv")}
        >
          Save the table as CSV
        </button>
        <SaveLinks name={`${evidence.playbook}-evidence`} what="the drawing" drawing={drawing} />
        {view && (
          <Asked
            how={`The causes are summed out of what each of ${count(view.estimate.cases)} cases says; 64 chains draw what is left open. Worst agreement ${thousandths(view.estimate.rhat)} (1 is perfect), worth at least ${count(Math.round(view.estimate.size))} independent draws, seed ${view.estimate.seed}. The same cases give the same figures.`}
          >
            <span className="text-faint underline decoration-dotted">How these figures are made</span>
          </Asked>
        )}
      </p>
      <p className="max-w-prose text-dense text-faint">
        Raw rates describe each step where it stands now: lower rungs only see cases that the upper ones left. “If tried
        first” is the estimated share that a step would resolve as the very first one, with its 95 % interval. Minutes
        and tries before the call are in the cases themselves.
      </p>
    </div>
  );
};

const Causes = ({ view, playbook }: { view: EstimateView; playbook: string }) => {
  const { causes, clears } = view.estimate;
  const guesses = view.guesses.filter(({ what }) => what === "cause");
  return (
    <Shares title="What is behind it" of="causes" guesses={guesses} playbook={playbook}>
      {causes
        .toSorted((a, b) => (b.share.mean ?? 0) - (a.share.mean ?? 0))
        .map((one) => (
          <Share key={one.cause} name={one.title} rate={one.share} judged={one.judged} />
        ))}
      <Share name="Clears by itself, at each look" rate={clears} judged={undefined} />
    </Shares>
  );
};

/** How common each sort of unit is that the ladder treats differently. */
const Units = ({ view, playbook }: { view: EstimateView; playbook: string }) => {
  const guesses = view.guesses.filter(({ what }) => what === "unit");
  if (guesses.length === 0) return null;
  return (
    <Shares title="Which units they are" of="units" guesses={guesses} playbook={playbook}>
      {guesses.map((one) => (
        <Share key={one.says} name={one.says} rate={one.seen} judged={one.judged} />
      ))}
    </Shares>
  );
};

interface SharesProps extends ComponentProps<typeof TakeShares> {
  title: string;
  children: ReactNode;
}

/** A table of shares beside the lead's, taken over in one press where the cases contradict some. */
const Shares = ({ title, children, ...taking }: SharesProps) => (
  <section aria-label={title} className="max-w-xl">
    <h2 className="font-semibold">{title}</h2>
    <table className="w-full text-dense">
      <ColumnNames of={["which", "share", "judged"]} />
      <tbody>{children}</tbody>
    </table>
    {taking.guesses.some((one) => one.is_contradicted) && <TakeShares {...taking} />}
  </section>
);

const Share = ({ name, rate, judged }: { name: string; rate: Rate; judged: number | undefined }) => (
  <tr className="border-rule border-t">
    <th scope="row" className="py-0.5 pr-3 text-left font-normal">
      {name}
    </th>
    <td className="w-32">
      <RateAxis estimate={rate} width={AXIS} />
    </td>
    <td className="whitespace-nowrap pl-3 text-plum">
      {isSaid(rate) ? `${percent(rate.mean)} (${range(rate)})` : "could not be settled"}
    </td>
    <td className="whitespace-nowrap pl-3 text-faint">{judged !== undefined && `judged ${percent(judged)}`}</td>
  </tr>
);
