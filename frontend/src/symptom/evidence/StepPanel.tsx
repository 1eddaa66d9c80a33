import { type ReactNode, useRef } from "react";
import { Link } from "react-router";
import type { ComeBack, EstimateView, Evidence, EvidenceRow, Guess, HarmSeen, Split } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { count, inMonth, percent, plural } from "../../ui/format";
import { stepCurve } from "./axis";
import { JudgedBeside } from "./JudgedBeside";
import { cameUp } from "./nested";
import { SaveLinks } from "./SaveLinks";
import { harmInWords, harmNamed, isSaid, range, splitInWords, versionInWords } from "./words";

interface StepPanelProps {
  evidence: Evidence;
  view: EstimateView | undefined;
  step: string | undefined;
}

/** The step that was chosen: whether it lasts, where it works, what was judged and what was learned, and its cases. */
export const StepPanel = ({ evidence, view, step }: StepPanelProps) => {
  const row = evidence.rows.find((one) => one.step === step);
  if (!row) return null;
  const estimate = view?.estimate.steps.find((one) => one.step === step);
  const drift = view?.drifts.find((one) => one.step === step);
  const asks = new Map(evidence.filters.facts.map(({ fact, ask }) => [fact, ask]));
  return (
    <aside
      aria-label="The chosen step"
      className="w-80 shrink-0 overflow-auto border-rule border-l px-5 py-4 max-[72rem]:w-auto max-[72rem]:border-t max-[72rem]:border-l-0 max-[72rem]:overflow-visible max-md:px-4"
    >
      <h2 className="font-semibold text-lead">{row.title ?? row.step}</h2>
      <p className="text-dense text-faint">
        {row.kind}
        {row.label && ` · rung ${row.label}`}
        {estimate && estimate.units < 0.995 && ` · for ${percent(estimate.units)} of units`}
      </p>
      {estimate && isSaid(estimate.first) && (
        <Part name="What would it end?">
          <Pair name="if tried first" value={`${percent(estimate.first.mean)} (${range(estimate.first)})`} isEstimate />
          {isSaid(estimate.here) && (
            <Pair
              name="here, of what comes to it"
              value={`${percent(estimate.here.mean)} (${range(estimate.here)})`}
              isEstimate
            />
          )}
          {isSaid(estimate.lasting) && (
            <Pair
              name="first, and for good"
              value={`${percent(estimate.lasting.mean)} (${range(estimate.lasting)})`}
              isEstimate
            />
          )}
          {estimate.learned < 0.5 && (
            <p className="text-brass text-dense">
              Mostly the lead's judgement: agents always climb in one order, or there are few cases.
            </p>
          )}
        </Part>
      )}
      {drift && (
        <Part name={`Works worse since ${inMonth(drift.since)}`}>
          <p className="text-dense">
            Before: {count(drift.resolved_before)} of {count(drift.tries_before)} resolved, where{" "}
            {count(Math.round(drift.expected_before))} were to be expected. Since: {count(drift.resolved_after)} of{" "}
            {count(drift.tries_after)}, where {count(Math.round(drift.expected_after))} were.
          </p>
          {(drift.versions ?? []).map((one) => (
            <p key={`${one.fact} ${one.value}`} className="mt-1 text-dense">
              {versionInWords(one, asks.get(one.fact))}
            </p>
          ))}
        </Part>
      )}
      <Lasting row={row} window={evidence.return_window} back={view?.come_backs.find((one) => one.step === step)} />
      <Where splits={view?.splits.filter((one) => one.step === step) ?? []} asks={asks} />
      <NotDone row={row} />
      <Harms harms={row.harms} />
      {row.copy_use && <CopyUsed use={row.copy_use} done={row.counts.done} />}
      <Guessed
        guesses={view?.guesses.filter((one) => one.step === step) ?? []}
        playbook={evidence.playbook}
        step={row.step}
      />
      <p className="mt-4 text-dense">
        <Link className="link" to={`/playbooks/${evidence.playbook}/cases?step=${encodeURIComponent(row.step)}`}>
          See the cases of this step
        </Link>
      </p>
    </aside>
  );
};

const Part = ({ name, children }: { name: string; children: ReactNode }) => (
  <section aria-label={name} className="mt-3 border-rule border-t pt-2">
    <h3 className="mb-1 font-semibold">{name}</h3>
    {children}
  </section>
);

const Pair = ({ name, value, isEstimate = false }: { name: string; value: string; isEstimate?: boolean }) => (
  <p className="flex justify-between gap-3 text-dense">
    <span>{name}</span>
    <span className={`whitespace-nowrap ${isEstimate ? "text-plum" : ""}`}>{value}</span>
  </p>
);

const CURVE = { width: 250, height: 64 };

const Lasting = ({ row, back, window }: { row: EvidenceRow; back: ComeBack | undefined; window: number }) => {
  const { counts } = row;
  if (counts.resolved === 0) return null;
  const isWorse = back?.p != null && back.p < 0.01 && (back.back.at(-1) ?? 0) > (back.others.at(-1) ?? 0);
  return (
    <Part name="Does it last?">
      {back && back.returned > 0 && <ComeBackCurve back={back} window={window} />}
      <Asked
        how={`${count(counts.held)} stayed ended, of ${count(counts.judged)} whose ${window} days have passed or that came back. ${count(counts.resolved - counts.judged)} are still too young to say.`}
      >
        <span className="text-dense">
          {counts.judged > 0
            ? `held ${percent(counts.held / counts.judged)}, ${count(counts.held)} of ${count(counts.judged)}`
            : "too young to say"}
        </span>
      </Asked>
      {isWorse && <p className="text-clay text-dense">Comes back more often than other cures, beyond chance.</p>}
    </Part>
  );
};

/** The share still ended, day by day: the step's cures as a line, all others dashed. */
const ComeBackCurve = ({ back, window }: { back: ComeBack; window: number }) => {
  const drawing = useRef<SVGSVGElement>(null);
  const last = back.back.at(-1) ?? 0;
  const rest = back.others.at(-1) ?? 0;
  return (
    <figure className="mb-1">
      <svg
        ref={drawing}
        role="img"
        aria-label={`after ${window} days ${percent(last)} have come back, of other cures ${percent(rest)}`}
        viewBox={`0 -4 ${CURVE.width} ${CURVE.height + 22}`}
        className="block w-full"
      >
        <line x1={0} x2={CURVE.width} y1={CURVE.height} y2={CURVE.height} className="stroke-rule" />
        <path
          d={stepCurve(
            back.others.map((share) => 1 - share),
            1,
            CURVE.width,
            CURVE.height,
          )}
          className="fill-none stroke-faint"
          strokeDasharray="4 3"
        />
        <path
          d={stepCurve(
            back.back.map((share) => 1 - share),
            1,
            CURVE.width,
            CURVE.height,
          )}
          className="fill-none stroke-ink"
          strokeWidth={2}
        />
        <text x={CURVE.width} y={last * CURVE.height + 12} textAnchor="end" className="fill-ink text-tiny">
          {percent(last)} back, others {percent(rest)}
        </text>
        <text x={0} y={CURVE.height + 14} className="fill-faint text-tiny">
          0 days
        </text>
        <text x={CURVE.width} y={CURVE.height + 14} textAnchor="end" className="fill-faint text-tiny">
          {window}
        </text>
      </svg>
      <p className="flex gap-x-4 text-tiny">
        <SaveLinks name={`${back.step}-lasting`} what="it" drawing={drawing} />
      </p>
    </figure>
  );
};

const SPLIT = 110;
const WORSE = { text: "text-clay", dot: "fill-clay" };
const BETTER = { text: "text-moss", dot: "fill-moss" };

const Where = ({ splits, asks }: { splits: Split[]; asks: Map<string, string> }) => {
  if (splits.length === 0) return null;
  const facts = [...new Set(splits.map(({ fact }) => fact))];
  const isMarked = splits.some(({ level }) => level);
  return (
    <Part name="Where does it work?">
      <p className="text-faint text-tiny">resolved, out of what was to be expected ( | )</p>
      {facts.map((fact) => (
        <table key={fact} className="mt-1 w-full text-dense">
          <caption className="text-left text-faint text-tiny">
            {fact === "site" ? "Site" : (asks.get(fact) ?? fact)}
          </caption>
          <tbody>
            {splits
              .filter((one) => one.fact === fact)
              .map((one) => (
                <SplitLine key={one.value} split={one} />
              ))}
          </tbody>
        </table>
      ))}
      {!isMarked && <p className="text-dense text-faint">No difference beyond chance.</p>}
    </Part>
  );
};

const SplitLine = ({ split }: { split: Split }) => {
  const { value, tries, resolved, expected, level, p } = split;
  const [dot, mark] = [(resolved / tries) * SPLIT, (expected / tries) * SPLIT];
  const tone = !level ? { text: "", dot: "fill-ink" } : resolved < expected ? WORSE : BETTER;
  const odds = p < 0.001 ? "less than 1 in 1,000" : percent(p);
  return (
    <tr className={tone.text}>
      <th scope="row" className={`pr-2 text-left ${level ? "font-semibold" : "font-normal"}`}>
        {value}
      </th>
      <td>
        <Asked
          how={`${splitInWords(split)}, by all that was known before each try. The chance of so large a difference by luck alone is ${odds}.`}
        >
          <span className="sr-only">{splitInWords(split)}</span>
          <svg aria-hidden="true" width={SPLIT + 10} height={14} viewBox={`-5 0 ${SPLIT + 10} 14`}>
            <line x1={0} x2={SPLIT} y1={7} y2={7} className="stroke-rule" />
            <line x1={mark} x2={mark} y1={2} y2={12} className="stroke-ink" strokeWidth={1.5} />
            <circle cx={dot} cy={7} r={4} className={tone.dot} />
          </svg>
        </Asked>
      </td>
      <td className="text-right text-faint">{count(tries)}</td>
    </tr>
  );
};

const NotDone = ({ row: { counts } }: { row: EvidenceRow }) => {
  const all = cameUp(counts);
  const parts: [number, string][] = [
    [counts.could_not, "could not be done"],
    [counts.not_available, "not there on the unit"],
    [counts.nothing_to_do, "nothing to do"],
    [counts.skipped, "skipped"],
    [counts.took_unknown, "unclear whether it took"],
    [counts.together, "tested together with others"],
  ];
  const said = parts.filter(([n]) => n > 0);
  if (said.length === 0) return null;
  return (
    <Part name="Not carried out, or not alone">
      {said.map(([n, what]) => (
        <Pair key={what} name={what} value={`${percent(n / all)} · ${plural(n, "time")}`} />
      ))}
    </Part>
  );
};

const Harms = ({ harms }: { harms: HarmSeen[] }) => {
  const seen = harms.filter((one) => one.seen > 0 || one.judged != null);
  if (seen.length === 0) return null;
  return (
    <Part name="Harm seen and harm named">
      {seen.map((harm) => (
        <Asked key={harm.kind} className="block w-full" how={harmInWords(harm)}>
          <span className={`flex justify-between text-dense ${harm.is_more ? "font-semibold text-clay" : ""}`}>
            <span>{harm.kind}</span>
            <span>
              {percent(harm.rate.mean ?? 0)} seen, {harmNamed(harm)}
            </span>
          </span>
        </Asked>
      ))}
    </Part>
  );
};

/** How often the copy was needed that a safeguard made, and how good it was. */
const CopyUsed = ({ use, done }: { use: NonNullable<EvidenceRow["copy_use"]>; done: number }) => {
  const told = use.whole + use.partly + use.no;
  return (
    <Part name="Was the copy needed?">
      <Pair name="needed" value={done > 0 ? `${plural(use.needed, "time")} in ${done}` : plural(use.needed, "time")} />
      {told > 0 && (
        <>
          <Pair name="all of it put right" value={plural(use.whole, "time")} />
          <Pair name="put right in part" value={plural(use.partly, "time")} />
          <Pair name="no good" value={plural(use.no, "time")} />
        </>
      )}
    </Part>
  );
};

const Guessed = (props: { guesses: Guess[]; playbook: string; step: string }) =>
  props.guesses.length > 0 && (
    <Part name="Judged and learned">
      <JudgedBeside {...props} />
    </Part>
  );
