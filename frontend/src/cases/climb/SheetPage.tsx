import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { climbKey } from "../../api/keys";
import { toHeading } from "../../ui/focus";
import { plural } from "../../ui/format";
import { Heading, useTitle } from "../../ui/Heading";
import { Prose } from "../../ui/Prose";
import { LoadFailed, Loading } from "../../ui/States";
import { useSending } from "../../ui/useSending";
import { InstructionList, Passages } from "./InstructionList";
import { enterSheet, sheetQuery } from "./queries";

/** What is left of the ladder for a case, to print or to take along: tools and parts before the journey. */
export const SheetPage = () => {
  const { climbId = "" } = useParams();
  const { data, error, refetch } = useQuery(sheetQuery(climbId));
  useTitle("Sheet", data?.case ?? "");
  // It stands outside the shell: until its heading is there, and where it cannot be had, the keyboard is on the page.
  useEffect(toHeading, []);
  return (
    <main tabIndex={-1} className="mx-auto max-w-[46rem] px-6 py-6 outline-none print:max-w-none print:px-0">
      <p className="flex gap-4 print:hidden">
        <Link to={`/climbs/${climbId}`} className="link">
          Back to the case
        </Link>
        <button type="button" className="link" onClick={() => window.print()}>
          Print it
        </button>
      </p>
      {data ? (
        <Sheet key={data.number} sheet={data} climbId={climbId} />
      ) : error ? (
        <LoadFailed error={error} onRetry={refetch} />
      ) : (
        <Loading />
      )}
    </main>
  );
};

type SheetRung = Schemas["SheetRung"];
type Tick = Schemas["Ticked"];

/** Whether something was ticked that the rung ended in. */
const isEnded = (tick: Tick | undefined) => tick?.outcome != null || tick?.finding != null;

const Sheet = ({ sheet, climbId }: { sheet: Schemas["Sheet"]; climbId: string }) => {
  const [ticks, setTicks] = useState<Record<string, Tick | undefined>>({});
  const key = useRef(crypto.randomUUID());
  const navigate = useNavigate();
  const client = useQueryClient();
  const ended = sheet.rungs.flatMap(({ path }) => (isEnded(ticks[path]) ? [ticks[path] as Tick] : []));
  const entering = useSending({
    mutationFn: () => enterSheet(climbId, { key: key.current, after: sheet.number, ticks: ended }),
    onSuccess: (view) => {
      client.setQueryData(climbKey(climbId), view);
      navigate(`/climbs/${climbId}`);
    },
  });
  return (
    <>
      <Heading isNamedBelow className="mt-3 font-bold text-title">
        {sheet.title} <span className="font-normal text-faint">{sheet.case}</span>
      </Heading>
      <section aria-labelledby="take-along" className="mt-4">
        <h2 id="take-along" className="font-semibold text-lead">
          Take along
        </h2>
        {sheet.to_hand.length === 0 && <p className="text-faint">Nothing but what is there.</p>}
        <ul>
          {sheet.to_hand.map((what) => (
            <li key={what} className="flex gap-2">
              <span aria-hidden="true">▢</span> {what}
            </li>
          ))}
        </ul>
      </section>
      <section aria-labelledby="told" className="mt-4">
        <h2 id="told" className="font-semibold text-lead">
          What is known
        </h2>
        <p className="whitespace-pre-line text-dense">{sheet.told}</p>
      </section>
      {sheet.rungs.map((rung) => (
        <Rung
          key={rung.path}
          rung={rung}
          tick={ticks[rung.path]}
          onTick={(tick) => {
            key.current = crypto.randomUUID();
            setTicks({ ...ticks, [rung.path]: tick });
          }}
        />
      ))}
      {sheet.retest && (
        <p className="mt-4 border-rule border-t pt-2">
          After each: <Prose text={sheet.retest} />
        </p>
      )}
      {ended.length > 0 && (
        <div className="sticky bottom-0 mt-4 border-rule border-t-2 bg-paper py-3 print:hidden">
          {entering.error && (
            <p role="alert" className="mb-2 border-clay border-l-4 pl-3">
              {entering.error.message}
            </p>
          )}
          <button
            type="button"
            className="button"
            data-tone="main"
            disabled={entering.isPending}
            onClick={() => entering.mutate(undefined)}
          >
            Enter what was ticked: {plural(ended.length, "step")}
          </button>
          <span className="ml-3 text-dense text-faint">
            Steps above the last one that nothing is ticked of count as skipped.
          </span>
        </div>
      )}
    </>
  );
};

interface RungProps {
  rung: SheetRung;
  tick: Tick | undefined;
  onTick: (tick: Tick | undefined) => void;
}

const Rung = ({ rung, tick, onTick }: RungProps) => (
  <section className={`mt-4 break-inside-avoid border-rule border-t pt-2 ${rung.depth > 0 ? "ml-6" : ""}`}>
    {rung.via && <p className="text-dense text-faint">Where it says: {rung.via}</p>}
    <h2 className="font-semibold text-lead">
      {rung.label} {rung.title}
    </h2>
    {rung.when && <p className="text-dense text-faint">Only where {rung.when}</p>}
    <Lines says={rung.beware} className="border-brass border-l-4 pl-3" />
    <Lines says={rung.guards} className="font-semibold" />
    {rung.cost && (
      <p className="text-dense">
        Tell the caller: “<Prose text={rung.cost} />”
      </p>
    )}
    {rung.is_agreed_to && (
      <label className="mt-1 flex items-baseline gap-2">
        <input
          type="checkbox"
          checked={tick?.is_agreed ?? false}
          onChange={({ target }) => onTick({ path: rung.path, ...tick, is_agreed: target.checked })}
        />
        asked, as it must be, and agreed to
      </label>
    )}
    <Passages passages={rung.enter} />
    <ol className="mt-1">
      <InstructionList instructions={rung.do} />
    </ol>
    <Said title="It has worked when" text={rung.expect} />
    <Said title="Harmless" text={rung.harmless.join(" · ")} />
    <Said title="If it is not there" text={rung.missing} />
    <Said title="If it gets stuck" text={rung.stuck} />
    <Passages passages={rung.leave} />
    {rung.reading.length > 0 && (
      <p className="mt-2 text-dense">
        Read: ______ <span className="text-faint">{rung.reading.join("; ")}</span>
      </p>
    )}
    <fieldset className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
      <legend className="sr-only">What came of it: {rung.title}</legend>
      {rung.ends.map((end) => {
        const isTicked = tick !== undefined && tick.outcome === end.outcome && tick.finding === end.finding;
        return (
          <label key={end.label} className="flex items-baseline gap-2">
            <input
              type="checkbox"
              checked={isTicked}
              onChange={() =>
                onTick(isTicked ? undefined : { ...tick, path: rung.path, outcome: end.outcome, finding: end.finding })
              }
            />
            {end.label}
          </label>
        );
      })}
    </fieldset>
  </section>
);

const Lines = ({ says, className }: { says: readonly string[]; className: string }) =>
  says.map((text) => (
    <p key={text} className={`mt-1 ${className}`}>
      <Prose text={text} />
    </p>
  ));

const Said = ({ title, text }: { title: string; text: string | null }) =>
  text ? (
    <p className="text-dense">
      {title}: <Prose text={text} />
    </p>
  ) : null;
