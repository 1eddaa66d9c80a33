import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { openClimbsQuery } from "../api/lists";
import { meQuery } from "../api/me";
import { say } from "../ui/say";
import { useNow } from "../ui/useNow";

const AGAIN_AFTER = 60_000;

/** What was put aside while it ran and should be done by now is told on every page to whoever has it, without a sound.
 * but: the case that is looked at. */
export const DoneRunning = ({ but }: { but?: string }) => {
  const { data: me } = useQuery(meQuery);
  const { data: climbs = [] } = useQuery({ ...openClimbsQuery, refetchInterval: AGAIN_AFTER });
  const now = useNow();
  const done = climbs.filter(
    ({ id, who, waits, until }) =>
      id !== but && who === me?.person?.name && waits === "runs" && until && new Date(until).getTime() <= now,
  );
  const says = done.map(({ title, case: name }) => `${title}, ${name}: should be done by now`).join(". ");
  useEffect(() => {
    if (says) say(says);
  }, [says]);
  if (done.length === 0) return null;
  return (
    <ul className="shrink-0 border-brass border-b-2 bg-sheet px-6 py-2 max-md:px-4">
      {done.map(({ id, at, title, case: name }) => (
        <li key={id} className="flex flex-wrap items-baseline gap-x-3">
          <span>
            “{at}” should be done by now: {title}, {name}
          </span>
          <Link to={`/climbs/${id}`} className="link">
            Go on with it
          </Link>
        </li>
      ))}
    </ul>
  );
};
