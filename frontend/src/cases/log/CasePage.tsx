import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useRef } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { openClimbsKey } from "../../api/keys";
import type { CaseView } from "../../api/types";
import { atClock, minutes, moment, onDay } from "../../ui/format";
import { Heading, useTitle } from "../../ui/Heading";
import { LoadFailed, Loading } from "../../ui/States";
import { useSending } from "../../ui/useSending";
import { HandOffText } from "../climb/HandOffText";
import { climbQuery } from "../climb/queries";
import { caseQuery, reopen } from "./queries";

/** One case as a timeline: what was said, what was tried, how it ended. */
export const CasePage = () => {
  const { caseId = "" } = useParams();
  const { data, error, refetch } = useQuery(caseQuery(caseId));
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading />;
  return <Timeline view={data} />;
};

const Timeline = ({ view }: { view: CaseView }) => {
  const { case: logged, lines } = view;
  useTitle(logged.case, view.title);
  const waited = logged.waited ?? 0;
  const total = (new Date(logged.closed).getTime() - new Date(logged.opened).getTime()) / 60_000 - waited;
  return (
    <div className="min-h-0 flex-1 overflow-auto px-6 py-5">
      <p className="text-dense">
        <Link to="/cases" className="link">
          Cases
        </Link>
      </p>
      <Heading>
        {logged.case} <span className="font-normal">{view.title}</span>
      </Heading>
      <p className="text-faint">
        {onDay(logged.opened)}, {atClock(logged.opened)} to {atClock(logged.closed)} · {minutes(Math.round(total))}
        {view.waited && `, and ${view.waited} of waiting`} · by {view.who}
        {logged.edition != null && (
          <>
            {" · "}
            <Link to={`/playbooks/${logged.playbook}/ladder`} className="link">
              edition {logged.edition}
            </Link>
          </>
        )}
        {view.origin === "import" && " · brought in"}
      </p>
      <GoOnWith caseId={logged.case} wasOver={WAS_OVER.has(logged.end)} />
      <div className="mt-5 grid gap-10 lg:grid-cols-[minmax(0,42rem)_18rem]">
        <ol className="border-rail border-l-2">
          <Moment at={atClock(logged.opened)} title={logged.said ? `“${logged.said}”` : "The case was opened"}>
            {view.baseline}
          </Moment>
          {logged.attempts?.map((attempt, number) => (
            <Moment
              key={number}
              at={attempt.by === "before" ? "before" : attempt.at ? atClock(attempt.at) : ""}
              title={lines[number]?.title ?? attempt.step}
              isGood={attempt.outcome === "fixed"}
            >
              {lines[number]?.says}
              {attempt.minutes != null && (
                <span className="text-faint"> · {minutes(Math.round(attempt.minutes * 10) / 10)}</span>
              )}
              {lines[number]?.harms.map((says) => (
                <span key={says} className="block text-clay">
                  {says}
                </span>
              ))}
            </Moment>
          ))}
          <Moment at={atClock(logged.closed)} title={view.ended} isGood={logged.end === "resolved"}>
            {view.confirmed}
            {logged.came_back && <span className="text-clay"> came back on {moment(logged.came_back)}</span>}
          </Moment>
        </ol>
        <Facts view={view} />
      </div>
      {view.climb && <TextForTicket climbId={view.climb} />}
    </div>
  );
};

const WAS_OVER: ReadonlySet<string> = new Set(["resolved", "worked-around", "self-cleared"]);

/** The fault is back, or the case comes back from whoever had it: it goes on in a new one, with all that is known, and
 * nothing that was tried comes first. */
const GoOnWith = ({ caseId, wasOver }: { caseId: string; wasOver: boolean }) => {
  const newId = useRef(crypto.randomUUID());
  const navigate = useNavigate();
  const client = useQueryClient();
  const opening = useSending({
    mutationFn: () => reopen(caseId, newId.current),
    onSuccess: (view) => {
      void client.invalidateQueries({ queryKey: openClimbsKey });
      navigate(`/climbs/${view.id}`);
    },
  });
  return (
    <p className="mt-2">
      <button type="button" className="button" disabled={opening.isPending} onClick={() => opening.mutate()}>
        {wasOver ? "It came back: go on with it" : "Take it up again"}
      </button>
      {opening.error && (
        <span role="alert" className="ml-3 text-clay">
          {opening.error.message}
        </span>
      )}
    </p>
  );
};

/** A guided case as one text, for the other system. */
const TextForTicket = ({ climbId }: { climbId: string }) => {
  const { data } = useQuery(climbQuery(climbId));
  return data ? <HandOffText climbId={climbId} text={data.hand_off} label="The case in one text" /> : null;
};

interface MomentProps {
  at: string;
  title: string;
  isGood?: boolean;
  children?: ReactNode;
}

const Moment = ({ at, title, isGood = false, children }: MomentProps) => (
  <li className="relative grid grid-cols-[4rem_1fr] gap-x-3 pb-4 pl-5">
    <span aria-hidden="true" className={`absolute top-2.5 -left-0.5 h-0.5 w-4 ${isGood ? "bg-moss" : "bg-rail"}`} />
    <span className="text-dense text-faint">{at}</span>
    <span>
      <span className="block font-semibold">{title}</span>
      <span className={isGood ? "text-moss" : ""}>{children}</span>
    </span>
  </li>
);

const Facts = ({ view: { case: logged, steps, known } }: { view: CaseView }) => {
  const title = (id: string) => steps.find((step) => step.id === id)?.title ?? id;
  return (
    <aside aria-label="Known of the case" className="space-y-5">
      <section>
        <h2 className="font-semibold has-[+dl:empty]:hidden">Known</h2>
        <dl className="mt-1 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-3 gap-y-1 text-dense">
          {logged.unit && <Pair name="unit">{logged.unit}</Pair>}
          {logged.ticket && <Pair name="number in the other system">{logged.ticket}</Pair>}
          {logged.caller && <Pair name="caller">{logged.caller}</Pair>}
          {logged.call_back && <Pair name="call back">{logged.call_back}</Pair>}
          {logged.restored && <Pair name="service restored">{moment(logged.restored)}</Pair>}
          {logged.reopened_from && <Pair name="came back after">{logged.reopened_from}</Pair>}
          {known.map(({ fact, ask, says }) => (
            <Pair key={fact} name={ask}>
              {says}
            </Pair>
          ))}
          {Object.entries(logged.signs ?? {}).map(([sign, seen]) => (
            <Pair key={sign} name={sign}>
              {seen === "yes" ? "seen" : "not there"}
            </Pair>
          ))}
        </dl>
      </section>
      {!!logged.passed?.length && (
        <section>
          <h2 className="font-semibold">Passed over</h2>
          <ul className="mt-1 space-y-1 text-dense">
            {logged.passed.map(({ step, why }) => (
              <li key={`${step} ${why}`}>
                {title(step)} <span className="text-faint">{why}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {!!logged.consents?.length && (
        <section>
          <h2 className="font-semibold">Consent</h2>
          <ul className="mt-1 space-y-1 text-dense">
            {logged.consents.map(({ step, at }) => (
              <li key={step}>
                {title(step)} <span className="text-faint">yes, {atClock(at)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {logged.notes && (
        <section>
          <h2 className="font-semibold">Notes</h2>
          <p className="mt-1 whitespace-pre-line text-dense">{logged.notes}</p>
        </section>
      )}
    </aside>
  );
};

const Pair = ({ name, children }: { name: string; children: string }) => (
  <div className="contents">
    <dt className="text-faint">{name}</dt>
    <dd>{children}</dd>
  </div>
);
