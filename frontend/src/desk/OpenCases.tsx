import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { openClimbsQuery } from "../api/lists";
import { WAITS_FOR } from "../cases/climb/watch";
import { moment } from "../ui/format";

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
        {climbs?.map((climb) => (
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
              <p className="text-brass text-dense">
                {WAITS_FOR[climb.waits]}
                {climb.until && ` until ${moment(climb.until)}`}
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
};
