import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { openClimbsQuery } from "../../api/lists";
import { meQuery } from "../../api/me";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";

/** The next open case of whoever sits here, one key away; each is where it was left. */
export const NextCase = ({ climbId }: { climbId: string }) => {
  const { data: me } = useQuery(meQuery);
  const { data: climbs } = useQuery(openClimbsQuery);
  const navigate = useNavigate();
  const mine = (climbs ?? []).filter(({ who }) => who === me?.person?.name);
  const at = mine.findIndex(({ id }) => id === climbId);
  const next = mine.length > (at < 0 ? 0 : 1) ? mine[(at + 1) % mine.length] : undefined;
  useKeys({ "next-case": () => next && navigate(`/climbs/${next.id}`) });
  if (!next) return null;
  return (
    <Link to={`/climbs/${next.id}`} className="text-faint max-md:hidden" title={next.title}>
      <span className="sr-only">Your next open case: </span>
      {next.case} <Key>o</Key>
    </Link>
  );
};
