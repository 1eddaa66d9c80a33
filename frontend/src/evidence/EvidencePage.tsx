import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { isTested } from "../api/meaning";
import type { Evidence, EvidenceRow, HarmSeen, StepEvidence } from "../api/types";
import { InHead } from "../symptom/SymptomLayout";
import { Asked } from "../ui/Asked";
import { count, percent, plural } from "../ui/format";
import { useTitle } from "../ui/Heading";
import { RateAxis } from "../ui/RateAxis";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { useIsWide } from "../ui/useWidth";
import { cameUp, nestedBar } from "./nested";
import { evidenceQuery } from "./queries";

const AXIS = 170;

/** How much room the nested bar has. */
const useBarWidth = () => (useIsWide("80rem") ? 260 : 150);

/** What the logged cases show of each step of one symptom. */
export const EvidencePage = () => {
  const { playbookId = "" } = useParams();
  const { data, error, refetch } = useQuery(evidenceQuery(playbookId));
  useTitle("Evidence", data?.title);
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={9} />;
  return (
    <>
      <InHead
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
  const [known, odd] = byName(evidence.rows);
  const barWidth = useBarWidth();
  return (
    <section aria-label="Evidence by step" className="min-h-0 flex-1 overflow-auto px-6 pb-6">
      <table className="w-full min-w-[60rem] border-collapse">
        <thead className="sticky top-0 z-[2] bg-paper text-left text-dense text-faint">
          <tr className="[&>th]:py-2 [&>th]:pr-4 [&>th]:font-normal">
            <th scope="col" className="w-8">
              rung
            </th>
            <th scope="col">step</th>
            <th scope="col" style={{ width: barWidth + 16 }}>
              <Legend />
            </th>
            <th scope="col" style={{ width: AXIS + 26 }}>
              <span className="flex justify-between">
                <span>resolved, of tried</span>
                <span>100 %</span>
              </span>
            </th>
            <th scope="col" className="w-36">
              held
            </th>
            <th scope="col" className="w-36">
              not carried out
            </th>
            <th scope="col" className="w-36">
              harm seen
            </th>
          </tr>
        </thead>
        <tbody>
          {known.map((row) => (
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
      {odd.length > 0 && <OtherNames rows={odd} playbook={evidence.playbook} />}
      <p className="mt-3 max-w-prose text-dense text-faint">
        Raw rates say what happened where a step stands now: low rungs meet only what the upper ones left. Ranges are 95
        % Jeffreys intervals. Minutes and tries before the call are in the cases themselves.
      </p>
    </section>
  );
};

/** Rows of the playbook's own steps, and those under names that it does not have, most done first. */
function byName(rows: EvidenceRow[]): [EvidenceRow[], EvidenceRow[]] {
  const known = rows.filter((row) => row.kind != null);
  const odd = rows.filter((row) => row.kind == null);
  return [known, odd.sort((a, b) => cameUp(b.counts) - cameUp(a.counts))];
}

/** What was done under names that no step of the playbook has: it counts for no rung. */
const OtherNames = ({ rows, playbook }: { rows: EvidenceRow[]; playbook: string }) => {
  const times = rows.reduce((sum, row) => sum + cameUp(row.counts), 0);
  return (
    <details className="mt-4 border-rule border-y py-2">
      <summary className="cursor-pointer">
        <span className="font-semibold">Under other names</span>{" "}
        <span className="text-faint">
          {plural(times, "attempt")} under {plural(rows.length, "name")} that no step here has, as other systems log
          them. They count for no rung.
        </span>
      </summary>
      <ul className="mt-2 columns-3 gap-8 text-dense max-lg:columns-2">
        {rows.map(({ step, counts }) => (
          <li key={step} className="flex break-inside-avoid justify-between gap-3 border-rule border-t py-1">
            <Link className="hover:underline" to={`/playbooks/${playbook}/cases?step=${encodeURIComponent(step)}`}>
              {step}
            </Link>
            <span className="text-faint whitespace-nowrap">{otherCounts(counts)}</span>
          </li>
        ))}
      </ul>
    </details>
  );
};

const otherCounts = (counts: StepEvidence) =>
  [
    plural(cameUp(counts), "time"),
    counts.tried > 0 && `${count(counts.resolved)} of ${count(counts.tried)} resolved`,
    counts.together > 0 && `${count(counts.together)} with others`,
  ]
    .filter(Boolean)
    .join(" · ");

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
        {row.kind !== "fix" && <span className="ml-2 font-normal text-dense text-faint">{row.kind}</span>}
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
                <span className="ml-1 whitespace-nowrap text-dense text-faint">
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
      <td className="text-dense">
        {row.harms.map((harm) => (
          <div key={harm.kind}>
            <HarmLine harm={harm} />
          </div>
        ))}
      </td>
    </tr>
  );
};

/** Harm of one kind that came of a step: bold where the cases show more of it than the step names. */
const HarmLine = ({ harm: { kind, judged, eased_by, asked, seen, rate, is_more } }: { harm: HarmSeen }) => {
  if (seen === 0) return null;
  const range = `${percent(rate.low ?? 0)} to ${percent(rate.high ?? 1)}`;
  const named = judged == null ? "The step names no such hazard." : `The step names a chance of ${percent(judged)}.`;
  const eased = judged == null ? "" : eased_by ? " A safeguard eases it." : " No safeguard is named for it.";
  return (
    <Asked
      how={`${kind}: seen ${count(seen)} times in ${count(asked)} attempts after which it was asked about (${range}, 95 % Jeffreys interval). ${named}${eased}`}
    >
      <span className={is_more ? "font-semibold text-clay" : ""}>
        {kind} {percent(rate.mean ?? 0)}
      </span>
      {is_more && <span className="whitespace-nowrap text-faint"> not {percent(judged ?? 0)}</span>}
    </Asked>
  );
};

const held = (counts: StepEvidence) => counts.held / counts.judged;

const nothingTried = ({ counts, kind }: EvidenceRow) => {
  const times = counts.found + counts.done;
  if (times) return `carried out ${plural(times, "time")}`;
  return isTested(kind) ? "no case has tried it" : "not carried out yet";
};

const Nested = ({ counts, most }: { counts: StepEvidence; most: number }) => {
  const width = useBarWidth();
  const bar = nestedBar(counts, most, width);
  return (
    <svg
      role="img"
      aria-label={`came up ${cameUp(counts)}, tried or carried out ${counts.tried + counts.done}, resolved ${counts.resolved}, held ${counts.held}`}
      width={width}
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
