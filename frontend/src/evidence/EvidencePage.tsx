import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { Evidence, EvidenceRow, StepEvidence } from "../api/types";
import { RateAxis } from "../ladder/RateAxis";
import { SymptomHead } from "../symptom/SymptomHead";
import { Asked } from "../ui/Asked";
import { count, percent, plural } from "../ui/format";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { cameUp, nestedBar } from "./nested";
import { evidenceQuery } from "./queries";

const BAR = 260;
const AXIS = 170;

/** What the logged cases show of each step of one symptom. */
export const EvidencePage = () => {
  const { playbookId = "" } = useParams();
  const { data, error, refetch } = useQuery(evidenceQuery(playbookId));
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={9} />;
  return (
    <>
      <SymptomHead
        playbookId={playbookId}
        title={data.title}
        says={`${plural(data.cases, "logged case")} · a cure counts as held when the fault stayed away for ${plural(data.return_window, "day")}`}
      />
      {data.cases === 0 ? (
        <Empty title="No case yet">
          Guide a case on this playbook, or bring some in:
          <code className="command my-2 block w-fit">mild-ladder import cases FILE.jsonl</code>
        </Empty>
      ) : (
        <EvidenceTable evidence={data} />
      )}
    </>
  );
};

const EvidenceTable = ({ evidence }: { evidence: Evidence }) => {
  const most = Math.max(1, ...evidence.rows.map((row) => cameUp(row.counts)));
  return (
    <section aria-label="Evidence by step" className="min-h-0 flex-1 overflow-auto px-6 pb-6">
      <table className="w-full min-w-[60rem] border-collapse">
        <thead className="sticky top-0 z-[2] bg-paper text-left text-dense text-faint">
          <tr className="[&>th]:py-2 [&>th]:pr-4 [&>th]:font-normal">
            <th scope="col" className="w-8">
              rung
            </th>
            <th scope="col">step</th>
            <th scope="col" style={{ width: BAR + 16 }}>
              <Legend />
            </th>
            <th scope="col" style={{ width: AXIS + 26 }}>
              <span className="flex justify-between">
                <span>resolved, of tried</span>
                <span>100 %</span>
              </span>
            </th>
            <th scope="col" className="w-32">
              held
            </th>
            <th scope="col" className="w-44">
              not carried out
            </th>
          </tr>
        </thead>
        <tbody>
          {evidence.rows.map((row) => (
            <EvidenceLine
              key={row.step}
              row={row}
              most={most}
              playbook={evidence.playbook}
              window={evidence.return_window}
            />
          ))}
        </tbody>
      </table>
      <p className="mt-3 max-w-prose text-dense text-faint">
        Raw rates say what happened where a step stands now: low rungs meet only what the upper ones left. Ranges are 95
        % Jeffreys intervals. Minutes and tries before the call are in the cases themselves.
      </p>
    </section>
  );
};

const Legend = () => (
  <span className="flex flex-wrap gap-x-3">
    <Swatch className="border border-rail">came up</Swatch>
    <Swatch className="bg-rail">tried</Swatch>
    <Swatch className="bg-moss">resolved</Swatch>
    <Swatch className="bg-ink">held</Swatch>
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
  playbook: string;
  window: number;
}

const EvidenceLine = ({ row, most, playbook, window }: EvidenceLineProps) => {
  const { counts } = row;
  const isTested = counts.tried > counts.found;
  return (
    <tr className="h-rung border-rule border-t hover:bg-sheet [&>td]:pr-4">
      <td className="text-right text-faint">{row.label ?? "–"}</td>
      <th scope="row" className="pr-4 text-left font-semibold">
        <Link className="hover:underline" to={`/playbooks/${playbook}/cases?step=${row.step}`}>
          {row.title ?? row.step}
        </Link>
        {row.kind !== "fix" && (
          <span className="ml-2 font-normal text-dense text-faint">{row.kind ?? "not in this playbook"}</span>
        )}
      </th>
      <td>
        <Nested counts={counts} most={most} />
      </td>
      <td>
        {isTested ? (
          <>
            <RateAxis rate={counts.raw} width={AXIS} />
            <RawInWords counts={counts} />
          </>
        ) : (
          <span className="text-dense text-faint">{nothingTried(row)}</span>
        )}
      </td>
      <td>
        {counts.resolved > 0 && (
          <Asked
            how={`${count(counts.held)} stayed ended, of ${count(counts.judged)} whose ${window} days have passed or that came back. ${count(counts.resolved - counts.judged)} are still too young to say.`}
          >
            {counts.judged > 0 ? (
              <>
                <span className={held(counts) < 0.75 ? "font-semibold text-clay" : ""}>{percent(held(counts))}</span>
                <span className="ml-1 text-dense text-faint">
                  {count(counts.held)} of {count(counts.judged)}
                </span>
              </>
            ) : (
              <span className="text-dense text-faint">too young to say</span>
            )}
          </Asked>
        )}
      </td>
      <td className="text-dense">{notDone(counts)}</td>
    </tr>
  );
};

const held = (counts: StepEvidence) => counts.held / counts.judged;

const nothingTried = ({ counts, kind }: EvidenceRow) => {
  const times = counts.found + counts.done;
  if (times) return `carried out ${plural(times, "time")}`;
  return kind === "fix" || kind === "workaround" ? "no case has tried it" : "not carried out yet";
};

const Nested = ({ counts, most }: { counts: StepEvidence; most: number }) => {
  const bar = nestedBar(counts, most, BAR);
  return (
    <svg
      role="img"
      aria-label={`came up ${cameUp(counts)}, tried or carried out ${counts.tried + counts.done}, resolved ${counts.resolved}, held ${counts.held}`}
      width={BAR}
      height={18}
      className="block"
    >
      <rect x={0.5} y={0.5} width={Math.max(bar.cameUp - 1, 0)} height={17} className="fill-none stroke-rail" />
      <rect x={0} y={3} width={bar.tried} height={12} className="fill-rail" />
      <rect x={0} y={5} width={bar.resolved} height={8} className="fill-moss" />
      <rect x={0} y={7.5} width={bar.held} height={3} className="fill-ink" />
    </svg>
  );
};

const RawInWords = ({ counts: { raw, resolved, tried } }: { counts: StepEvidence }) =>
  raw.mean == null ? null : (
    <p className="text-tiny text-faint">
      {count(resolved)} of {count(tried)}, {percent(raw.mean)} ({percent(raw.low ?? 0)} to {percent(raw.high ?? 1)})
    </p>
  );

function notDone(counts: StepEvidence): string {
  const all = cameUp(counts);
  const parts: [number, string][] = [
    [counts.could_not, "could not"],
    [counts.not_available, "not there"],
    [counts.nothing_to_do, "nothing to do"],
    [counts.skipped, "skipped"],
    [counts.took_unknown, "unclear whether it took"],
    [counts.together, "tested together"],
  ];
  return parts
    .filter(([n]) => n > 0)
    .map(([n, what]) => `${what} ${percent(n / all)}`)
    .join(", ");
}
