import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { openClimbsQuery } from "../api/lists";
import { WAITS_FOR } from "../cases/climb/watch";
import { moment } from "../ui/format";
import { useNow } from "../ui/useNow";

const until = ({ until }: Climb): string =>
  until ? `${isDue(until) ? ", due since" : " until"} ${moment(until)}` : "";

/** How far a step is that runs by itself. */
const Run = ({ climb }: { climb: Climb }) => {
  const now = useNow();
  const [from, to] = [climb.since ?? climb.opened, climb.until ?? climb.opened].map((one) => new Date(one).getTime());
  if (from === undefined || to === undefined) return null;
  const gone = Math.floor((now - from) / 60_000);
  return <>{now < to ? `: ${gone} of ${Math.round((to - from) / 60_000)} min` : ": should be done by now"}</>;
};

/** Whether what it waits for should be there by now. */
const isDue = (until: string | null): boolean => until !== null && new Date(until).getTime() <= Date.now();

type Climb = Schemas["ClimbSummary"];

/** The guided cases that have not ended: whoever sits down here can take one up. */
export const OpenCases = () => {
  const { data: climbs, error } = useQuery(openClimbsQuery);
  return (
    <section aria-labelledby="open-cases" className="mb-6">
      <h2 id="open-cases" className="font-semibold text-lead">
        Being guided now
      </h2>
      {error && <p role="alert">{error.message}</p>}
      {climbs?.length === 0 && (
        <p className="mt-1 text-faint">
          No case is open.{" "}
          <Link to="/start" className="link">
            Start a case
          </Link>{" "}
          when a caller is on the line.
        </p>
      )}
      {climbs?.some(({ until }) => until) && (
        <p className="mt-1 text-dense">
          <a href="/api/due.ics" className="link">
            What is due, as a calendar
          </a>
        </p>
      )}
      <ul className="mt-2">
        {climbs
          ?.toSorted((one, other) => Number(isDue(other.until)) - Number(isDue(one.until)))
          .map((climb) => (
            <li key={climb.id} className="relative border-rule border-t py-2 hover:bg-sheet">
              <Link to={`/climbs/${climb.id}`} className="font-semibold after:absolute after:inset-0">
                {climb.title}
                <span className="sr-only">, {climb.case}</span>
              </Link>
              <p className="text-dense text-faint">
                {climb.case} · {moment(climb.opened)} · {climb.who}
                {climb.unit && ` · ${climb.unit}`}
              </p>
              <p className="text-dense">{climb.at}</p>
              {climb.waits && (
                <p className={`text-brass text-dense ${isDue(climb.until) ? "font-semibold" : ""}`}>
                  {WAITS_FOR[climb.waits]}
                  {climb.part && `: ${climb.part}`}
                  {climb.waits === "runs" ? <Run climb={climb} /> : until(climb)}
                </p>
              )}
            </li>
          ))}
      </ul>
    </section>
  );
};
