import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { toHeading } from "../../ui/focus";
import { Heading, useTitle } from "../../ui/Heading";
import { Prose } from "../../ui/Prose";
import { LoadFailed, Loading } from "../../ui/States";
import { InstructionList } from "./InstructionList";
import { sheetQuery } from "./queries";

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
      {data ? <Sheet sheet={data} /> : error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading />}
    </main>
  );
};

const Sheet = ({ sheet }: { sheet: Schemas["Sheet"] }) => (
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
    {sheet.rungs.map((rung, at) => (
      <Rung key={at} rung={rung} />
    ))}
    {sheet.retest && (
      <p className="mt-4 border-rule border-t pt-2">
        After each: <Prose text={sheet.retest} />
      </p>
    )}
  </>
);

const Rung = ({ rung }: { rung: Schemas["SheetRung"] }) => (
  <section className={`mt-4 break-inside-avoid border-rule border-t pt-2 ${rung.depth > 0 ? "ml-6" : ""}`}>
    {rung.via && <p className="text-dense text-faint">Where it says: {rung.via}</p>}
    <h2 className="font-semibold text-lead">
      {rung.label} {rung.title}
    </h2>
    {rung.when && <p className="text-dense text-faint">Only where {rung.when}</p>}
    {rung.states.length > 0 && <p className="text-dense text-faint">In: {rung.states.join(", ")}</p>}
    {rung.cost && (
      <p className="text-dense">
        Tell the caller: “<Prose text={rung.cost} />”
      </p>
    )}
    <ol className="mt-1">
      <InstructionList instructions={rung.do} />
    </ol>
    {rung.expect && (
      <p className="text-dense">
        It has worked when: <Prose text={rung.expect} />
      </p>
    )}
    {rung.missing && (
      <p className="text-dense">
        If it is not there: <Prose text={rung.missing} />
      </p>
    )}
  </section>
);
