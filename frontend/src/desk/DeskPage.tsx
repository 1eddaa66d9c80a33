import { useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Notices } from "../advice/notices/Notices";
import { noticesQuery } from "../advice/notices/queries";
import { Nudges } from "../advice/nudges/Nudges";
import { monthQuery } from "../advice/nudges/queries";
import { WhatCame } from "../advice/nudges/WhatCame";
import { remarksQuery } from "../advice/remarks/queries";
import { openClimbsQuery, symptomsQuery } from "../api/lists";
import { meQuery } from "../api/me";
import type { SymptomCard } from "../api/types";
import { leftOutQuery } from "../cases/log/queries";
import { Asked } from "../ui/Asked";
import { count, minutes, percent, plural, trimmed } from "../ui/format";
import { Heading, useTitle } from "../ui/Heading";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { TaperThumb } from "../ui/taper/TaperThumb";
import { changed } from "./inWords";
import { OpenCases } from "./OpenCases";
import { TimeSpent } from "./TimeSpent";
import { Waiting } from "./Waiting";
import { WithoutLadder } from "./WithoutLadder";

// What cannot be read of these is told where it would stand; the others say so themselves.
const TOLD_TOGETHER = [leftOutQuery, remarksQuery, monthQuery(undefined)];
const BESIDE = [...TOLD_TOGETHER, symptomsQuery, openClimbsQuery, noticesQuery];

/** The desk: its symptoms, those that take most time first, and the cases that are being guided now. */
export const DeskPage = () => {
  const { data, error, refetch } = useQuery(symptomsQuery);
  const role = useQuery(meQuery).data?.person?.role;
  const isLead = role === "lead";
  // Nothing moves to another place once it is known who sits here, but for those who guide cases.
  const isAgent = role !== undefined && !isLead;
  const beside = useBeside();
  useTitle("Desk");
  return (
    <div className="min-h-0 flex-1 overflow-auto px-6 py-5 max-md:px-4">
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_18rem]">
        <div>
          {isLead && (
            <>
              <Nudges />
              <WhatCame />
            </>
          )}
          {isAgent && <OpenCases />}
          <section aria-label="Symptoms" id="symptoms">
            <div className="flex items-center justify-between gap-4">
              <Heading isNamedBelow>Symptoms</Heading>
              <Link to="/new" className="button">
                New symptom
              </Link>
            </div>
            {isLead && <WithoutLadder />}
            {data ? <Symptoms symptoms={data} /> : error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading />}
          </section>
        </div>
        <div hidden={!beside.isShown}>
          {!isAgent && beside.error && (
            <p role="alert" className="mb-6">
              Not all that waits can be told now: {beside.error.message}{" "}
              <button type="button" className="link" onClick={beside.retry}>
                Try again
              </button>
            </p>
          )}
          {!isAgent && <Waiting />}
          <Notices />
          {!isAgent && <OpenCases />}
          {!isAgent && <TimeSpent />}
        </div>
      </div>
    </div>
  );
};

/** Whether what stands beside the list may be shown: all at once, for a press would else land beside what moves.
 *
 * It is there from the first, only hidden; and once shown it stays, whatever fails and is asked for again: what comes
 * late to the page would ask again for all that failed, and hide itself by that. */
const useBeside = () => {
  const found = useQueries({ queries: BESIDE });
  const isKnown = !found.some(({ isPending }) => isPending);
  const [isShown, setShown] = useState(isKnown);
  if (isKnown && !isShown) setShown(true);
  const error = found.slice(0, TOLD_TOGETHER.length).find((one) => one.error)?.error;
  const retry = () => {
    for (const one of found) if (one.error) void one.refetch();
  };
  return { isShown: isShown || isKnown, error, retry };
};

const Symptoms = ({ symptoms }: { symptoms: SymptomCard[] }) => {
  if (symptoms.length === 0) return <NoSymptoms />;
  const cases = symptoms.reduce((sum, symptom) => sum + symptom.cases, 0);
  const most = Math.max(1, ...symptoms.map((symptom) => symptom.minutes));
  return (
    <>
      <p className="text-faint">
        {plural(cases, "logged case")}; what takes the desk most time stands first. The shape is the ladder: where it
        narrows, faults end.
      </p>
      <ol className="mt-3 border-rule border-t">
        {symptoms.map((symptom) => (
          <SymptomRow key={symptom.id} symptom={symptom} most={most} />
        ))}
      </ol>
    </>
  );
};

const SymptomRow = ({ symptom, most }: { symptom: SymptomCard; most: number }) => (
  <li className="relative grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-4 gap-y-2 border-rule border-b py-3 hover:bg-sheet md:grid-cols-[5.5rem_minmax(0,1fr)_3.5rem_7.5rem_9.5rem]">
    <TaperThumb forecast={symptom.forecast} height={64} />
    <div>
      <h2 className="font-semibold text-lead">
        <Link to={`/playbooks/${symptom.id}/ladder`} className="after:absolute after:inset-0">
          {symptom.title}
        </Link>
      </h2>
      <p className="line-clamp-2 text-faint">“{symptom.says}”</p>
      <p className="mt-1 text-dense text-faint">
        {symptom.edition ? `edition ${symptom.edition}` : "not published yet"}
        {symptom.edition && symptom.draft_differs && <span className="text-brass"> · draft differs</span>}
        {" · "}
        {plural(symptom.forecast.rungs.length, "rung")}
        {symptom.recounting && <span className="text-brass"> · cases are being counted again</span>}
      </p>
    </div>
    <div className="contents max-md:col-span-2 max-md:flex max-md:justify-between max-md:gap-x-3">
      <Figure label="cases" value={count(symptom.cases)} />
      <div className="z-[1] self-start">
        <Asked
          how={`Hours between opening and closing, over ${plural(symptom.cases, "case")}; the bar compares the symptoms by them.`}
        >
          <span className="block text-dense text-faint">hours in all</span>
          <span className="font-semibold">{symptom.cases ? trimmed(symptom.minutes / 60) : "–"}</span>
          {symptom.cases > 0 && (
            <span className="block text-dense text-faint">{minutes(symptom.minutes / symptom.cases)} a case</span>
          )}
          <span className="mt-1 block h-1.5 w-28 max-md:w-20" aria-hidden="true">
            <span className="block h-full bg-slate" style={{ width: `${(100 * symptom.minutes) / most}%` }} />
          </span>
        </Asked>
      </div>
      <div className="z-[1] self-start">
        <ResolvedShare symptom={symptom} />
      </div>
    </div>
  </li>
);

const Figure = ({ label, value }: { label: string; value: string }) => (
  <div className="self-start">
    <p className="text-dense text-faint">{label}</p>
    <p className="font-semibold">{value}</p>
  </div>
);

const ResolvedShare = ({ symptom }: { symptom: SymptomCard }) => {
  const { mean, low, high } = symptom.resolved;
  if (mean == null || low == null || high == null) return <Figure label="resolved here" value="no cases yet" />;
  const ended = (symptom.ended.resolved ?? 0) + (symptom.ended["worked-around"] ?? 0);
  return (
    <Asked
      how={`${count(ended)} of ${plural(symptom.cases, "case")} ended resolved or worked around at this desk. The range is a 95 % Jeffreys interval. A cure has held once the days are over within which its fault would count as come back.${symptom.since ? ` Points by the newest edition against those before: ${plural(symptom.since.cases, "case")} by it, as they came; the Editions page compares them on the same mix.` : ""}`}
    >
      <span className="block text-dense text-faint">resolved here</span>
      <span className="font-semibold text-moss">{percent(mean)}</span>{" "}
      <span className="text-dense text-faint">
        {percent(low)} to {percent(high)}
      </span>
      {symptom.held.mean !== null && (
        <span className="block text-dense text-faint">{percent(symptom.held.mean)} of it held</span>
      )}
      {symptom.since && <span className="block text-dense text-faint">{changed(symptom.since)}</span>}
    </Asked>
  );
};

const NoSymptoms = () => (
  <Empty title="No symptom yet">
    <p>
      <Link to="/new" className="link">
        Begin one
      </Link>{" "}
      from a title and a list of steps, or bring in a playbook file there; here it is brought in from a shell:
    </p>
    <p className="my-2">
      <code className="command">mild-ladder import playbook FILE</code>
    </p>
    <p>
      The format is described by <code className="command">mild-ladder schema playbook</code>, and{" "}
      <code className="command">mild-ladder demo</code> shows a whole desk.
    </p>
  </Empty>
);
