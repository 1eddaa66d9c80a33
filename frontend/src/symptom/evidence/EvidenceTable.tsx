import { Fragment } from "react";
import { isTested } from "../../api/meaning";
import type { Drift, EstimateView, Evidence, EvidenceRow, StepEstimate, StepEvidence } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { count, minutes, percent, plural } from "../../ui/format";
import { MarksKey } from "../../ui/MarksKey";
import { useIsWide } from "../../ui/useWidth";
import { EVIDENCE_MARKS } from "./marks";
import { cameUp, nestedBar } from "./nested";
import { PairAxis } from "./PairAxis";
import { Trend } from "./Trend";
import { apart, howFirst, isSaid, notable, range, refusal } from "./words";

/** How much room the drawings have. */
function useRoom() {
  const [isWide, isVeryWide] = [useIsWide("80rem"), useIsWide("100rem")];
  return { bar: isVeryWide ? 260 : isWide ? 190 : 150, axis: isVeryWide ? 240 : isWide ? 190 : 150 };
}

interface EvidenceTableProps {
  evidence: Evidence;
  view: EstimateView | undefined;
  isBehind: boolean;
  isWorking: boolean;
  chosen: string | undefined;
  onChoose: (step: string) => void;
}

/** One row a step: how often it came up, was tried, resolved and held, and what it would end if tried first. */
export const EvidenceTable = ({ evidence, view, isBehind, isWorking, chosen, onChoose }: EvidenceTableProps) => {
  const rows = evidence.rows.filter(({ kind }) => kind != null);
  const most = Math.max(1, ...rows.map((row) => cameUp(row.counts)));
  const room = useRoom();
  const estimates = new Map(view?.estimate.steps.map((one) => [one.step, one]));
  const drifts = new Map(view?.drifts.map((one) => [one.step, one]));
  const months = evidence.filters.months.slice(-24);
  const says = apart(rows, estimates);
  return (
    <section aria-label="Evidence by step" aria-busy={isBehind}>
      {isBehind && <p className="text-dense text-faint">Counting by the new filter …</p>}
      <table className="w-full min-w-[52rem] border-collapse">
        <thead className="sticky top-0 z-[2] bg-paper text-left text-dense text-faint">
          <tr className="[&>th]:py-2 [&>th]:pr-4 [&>th]:align-bottom [&>th]:font-normal">
            <th scope="col" className="w-8">
              rung
            </th>
            <th scope="col">step</th>
            <th scope="col" style={{ width: room.bar + 16 }}>
              <Legend />
            </th>
            <th scope="col" style={{ width: room.axis + 30 }}>
              <span className="flex items-center gap-1 whitespace-nowrap text-ink">
                <Dot isOpen /> raw <span className="ml-2" />
                <Dot /> <span className="text-plum">if tried first</span>
              </span>
              <span className="flex justify-between" style={{ width: room.axis }}>
                <span>0</span>
                {isWorking && <span className="text-plum">being worked out</span>}
                <span>100 %</span>
              </span>
            </th>
            <th scope="col" className="w-24">
              minutes
            </th>
            <th scope="col" className="w-24 max-xl:hidden">
              month by month
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <EvidenceLine
              key={row.step}
              row={row}
              most={most}
              room={room}
              estimate={estimates.get(row.step)}
              drift={drifts.get(row.step)}
              months={months}
              isChosen={row.step === chosen}
              onChoose={onChoose}
            />
          ))}
        </tbody>
      </table>
      {says && <p className="border-rule border-t py-2">{says}</p>}
    </section>
  );
};

const Dot = ({ isOpen = false }: { isOpen?: boolean }) => (
  <svg aria-hidden="true" width={11} height={11} className="inline-block">
    <circle
      cx={5.5}
      cy={5.5}
      r={isOpen ? 3.5 : 4.5}
      className={isOpen ? "fill-paper stroke-ink" : "fill-plum"}
      strokeWidth={1.6}
    />
  </svg>
);

const Legend = () => (
  <span className="flex flex-wrap gap-x-3">
    <Swatch className="border border-rail">came up</Swatch>
    <Swatch className="bg-rail">tried</Swatch>
    <Swatch className="bg-moss">resolved</Swatch>
    <Swatch className="bg-ink">held</Swatch>
    <MarksKey of="the evidence of a step" marks={EVIDENCE_MARKS} />
  </span>
);

const Swatch = ({ className, children }: { className: string; children: string }) => (
  <span className="flex items-center gap-1">
    <span aria-hidden="true" className={`inline-block size-2.5 ${className}`} />
    {children}
  </span>
);

interface EvidenceLineProps {
  row: EvidenceRow;
  most: number;
  room: { bar: number; axis: number };
  estimate: StepEstimate | undefined;
  drift: Drift | undefined;
  months: readonly string[];
  isChosen: boolean;
  onChoose: (step: string) => void;
}

const EvidenceLine = (props: EvidenceLineProps) => {
  const { row, most, room, estimate, drift, months, isChosen, onChoose } = props;
  const { counts } = row;
  const stands = notable(row, drift);
  return (
    <tr
      className={`h-rung border-rule border-t [&>td]:pr-4 ${isChosen ? "bg-sheet [&>td:first-child]:border-brass" : "hover:bg-sheet"}`}
    >
      <td className="border-transparent border-l-[3px] text-right text-faint">{row.label ?? "–"}</td>
      <th scope="row" className="py-1 pr-4 text-left font-semibold">
        <button
          type="button"
          aria-pressed={isChosen}
          className="text-left hover:underline"
          onClick={() => onChoose(row.step)}
        >
          {row.title ?? row.step}
        </button>
        <span className="block font-normal text-dense text-faint">
          {row.kind !== "fix" && row.kind}
          {stands.map((one, place) => (
            <Fragment key={one}>
              {(place > 0 || row.kind !== "fix") && " · "}
              <span className="font-semibold text-clay">{one}</span>
            </Fragment>
          ))}
        </span>
      </th>
      <td>
        <Nested counts={counts} most={most} width={room.bar} />
      </td>
      <td>
        {isTested(row.kind) && (counts.tried > 0 || isSaid(estimate?.first)) ? (
          estimate ? (
            <Asked how={howFirst(estimate, counts.raw)} className="block">
              <span className="sr-only">{inWords(counts, estimate)}</span>
              <PairAxis raw={counts.raw} estimate={estimate} width={room.axis} />
              {!isSaid(estimate.first) && <span className="text-faint text-tiny">{refusal(estimate)}</span>}
            </Asked>
          ) : (
            <>
              <span className="sr-only">{inWords(counts, estimate)}</span>
              <PairAxis raw={counts.raw} estimate={undefined} width={room.axis} />
            </>
          )
        ) : (
          <span className="text-dense text-faint">{nothingTried(row)}</span>
        )}
      </td>
      <td className="whitespace-nowrap">
        {row.minutes && (
          <Asked
            how={`Half of ${count(row.minutes.tries)} attempts took less: ${minutes(row.minutes.median)} (${minutes(row.minutes.low)} to ${minutes(row.minutes.high)}, 99.9 % interval of the median). Judged: ${minutes(row.minutes.judged)} on the clock.`}
          >
            {minutes(row.minutes.median)}
            {row.minutes.is_off && (
              <span className="block text-brass text-tiny">judged {minutes(row.minutes.judged)}</span>
            )}
          </Asked>
        )}
      </td>
      <td className="max-xl:hidden">
        {isTested(row.kind) && <Trend months={row.months} all={months} drift={drift} />}
      </td>
    </tr>
  );
};

const inWords = ({ raw, resolved, tried }: StepEvidence, estimate: StepEstimate | undefined) =>
  [
    isSaid(raw) && `raw ${count(resolved)} of ${count(tried)}, ${percent(raw.mean)}, ${range(raw)}`,
    isSaid(estimate?.first) && `if tried first ${percent(estimate.first.mean)}, ${range(estimate.first)}`,
  ]
    .filter(Boolean)
    .join("; ");

const nothingTried = ({ counts, kind }: EvidenceRow) => {
  const times = counts.found + counts.done;
  if (times) return `carried out ${plural(times, "time")}`;
  return isTested(kind) ? "no case has tried it" : "not carried out yet";
};

const Nested = ({ counts, most, width }: { counts: StepEvidence; most: number; width: number }) => {
  const bar = nestedBar(counts, most, width);
  return (
    <svg
      role="img"
      aria-label={`came up ${cameUp(counts)}, tried or carried out ${count(counts.tried + counts.done)}, resolved ${count(counts.resolved)}, held ${count(counts.held)}`}
      width={width}
      height={18}
      className="block"
    >
      <rect x={0.5} y={0.5} width={Math.max(bar.cameUp - 1, 0)} height={17} className="fill-none stroke-rail" />
      <rect x={0} y={3} width={bar.tried} height={12} className="fill-rail" />
      {bar.resolved > 0 && <rect x={0} y={5} width={bar.resolved} height={8} className="fill-moss stroke-paper" />}
      <rect x={0} y={7.5} width={bar.held} height={3} className="fill-ink" />
    </svg>
  );
};
