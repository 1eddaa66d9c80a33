import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import { meQuery } from "../../api/me";
import type { Evidence, EvidenceRow, StepEvidence } from "../../api/types";
import { count, plural } from "../../ui/format";
import { cameUp } from "./nested";
import { useSayName, useTakeNameBack } from "./queries";

/** Where in the page it stands, for whoever is sent here to decide. */
export const OTHER_NAMES = "other-names";

/** What was done under names that no step of the playbook has, most done first: it counts for no rung, until a lead
 * says what a name is. */
export const OtherNames = ({ evidence: { playbook, rows, names } }: { evidence: Evidence }) => {
  const isLead = useQuery(meQuery).data?.person?.role === "lead";
  const odd = rows.filter(({ kind }) => kind == null).toSorted((a, b) => cameUp(b.counts) - cameUp(a.counts));
  const isSentHere = useLocation().hash === `#${OTHER_NAMES}`;
  const place = useRef<HTMLDetailsElement>(null);
  useEffect(() => {
    if (isSentHere) place.current?.scrollIntoView({ block: "start" });
  }, [isSentHere]);
  if (odd.length + names.length === 0) return null;
  const times = odd.reduce((sum, row) => sum + cameUp(row.counts), 0);
  const own = new Set(names.flatMap(({ step, title }) => (title === null ? [step] : [])));
  return (
    <details
      id={OTHER_NAMES}
      ref={place}
      open={isSentHere || undefined}
      className="mt-4 scroll-mt-16 border-rule border-y py-2"
    >
      <summary className="cursor-pointer">
        {odd.length === 0 ? (
          <span className="font-semibold">Names that count as its steps</span>
        ) : (
          <>
            <span className="font-semibold">Under other names</span>{" "}
            <span className="text-faint">
              {plural(times, "attempt")} under {plural(odd.length, "name")} that no step here has, as other systems log
              them. They count for no rung{isLead && " until you say what they are"}.
            </span>
          </>
        )}
      </summary>
      <ul className="mt-2 columns-2 gap-8 text-dense max-lg:columns-1">
        {odd.map((row) => (
          <OddName key={row.step} row={row} playbook={playbook} isAsked={isLead && !own.has(row.step)} rows={rows} />
        ))}
      </ul>
      {names.length > 0 && <Said playbook={playbook} names={names} isLead={isLead} />}
    </details>
  );
};

interface OddNameProps {
  row: EvidenceRow;
  playbook: string;
  /** Whether the one who looks may say what it is. */
  isAsked: boolean;
  rows: readonly EvidenceRow[];
}

const OF_ITS_OWN = "of its own";

const OddName = ({ row: { step, title: own, counts }, playbook, isAsked, rows }: OddNameProps) => {
  const saying = useSayName(playbook);
  const [chosen, setChosen] = useState("");
  const title = own ?? step;
  // Chosen first, then said: every case of that name counts otherwise from then on.
  const take = (event: FormEvent) => {
    event.preventDefault();
    saying.mutate({ name: step, step: chosen === OF_ITS_OWN ? null : chosen });
  };
  return (
    <li className="break-inside-avoid border-rule border-t py-1">
      <p className="flex justify-between gap-3">
        <Link className="hover:underline" to={`/playbooks/${playbook}/cases?step=${encodeURIComponent(step)}`}>
          {title}
        </Link>
        <span className="text-faint whitespace-nowrap">{otherCounts(counts)}</span>
      </p>
      {saying.isSuccess && (
        <p className="text-faint">
          {chosen === OF_ITS_OWN
            ? "A step of its own from now on."
            : `Counts as “${rows.find((one) => one.step === chosen)?.title}” from now on; the figures follow.`}
        </p>
      )}
      {isAsked && !saying.isSuccess && (
        <form className="mt-1 flex gap-2" onSubmit={take}>
          <select
            aria-label={`What “${title}” is`}
            className="field w-full py-0.5 text-faint"
            value={chosen}
            disabled={saying.isPending}
            onChange={({ target }) => setChosen(target.value)}
          >
            <option value="">what is it?</option>
            <option value={OF_ITS_OWN}>a step of its own, which no step here is</option>
            {rows
              .filter((one) => one.step !== step && one.title !== null)
              .map((one) => (
                <option key={one.step} value={one.step}>
                  {one.title}
                </option>
              ))}
          </select>
          {chosen && (
            <button type="submit" className="button py-0.5" disabled={saying.isPending}>
              Say so
            </button>
          )}
        </form>
      )}
      {saying.error && (
        <p role="alert" className="text-clay">
          {saying.error.message}
        </p>
      )}
    </li>
  );
};

/** What names were said to be. */
const Said = ({ playbook, names, isLead }: { playbook: string; names: Evidence["names"]; isLead: boolean }) => {
  const taking = useTakeNameBack(playbook);
  return (
    <section aria-label="What names were said to be" className="mt-3 text-dense">
      <ul>
        {names.map(({ name, title }) => (
          <li key={name} className="flex flex-wrap gap-x-3 border-rule border-t py-1">
            <span>
              “{name}” {title === null ? "is a step of its own" : `counts as “${title}”`}
            </span>
            {isLead && (
              <button type="button" className="link" disabled={taking.isPending} onClick={() => taking.mutate(name)}>
                take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {taking.error && (
        <p role="alert" className="text-clay">
          {taking.error.message}
        </p>
      )}
    </section>
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
