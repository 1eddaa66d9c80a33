import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { openClimbsQuery } from "../../api/lists";
import { type AskedAbout, alreadyOpen } from "./openAlready";

/** A case of that unit, number or caller is open already: it is offered instead of a second one. */
export const AlreadyOpen = (asked: AskedAbout) => {
  const { data: climbs } = useQuery(openClimbsQuery);
  const found = alreadyOpen(climbs ?? [], asked);
  if (found.length === 0) return null;
  return (
    <section className="mt-3 border-brass border-l-4 pl-3 text-dense" aria-label="Open already" role="status">
      <p className="font-semibold">Open already: go on with it?</p>
      {found.map(({ id, case: name, title, who, unit, ticket }) => (
        <p key={id}>
          <Link to={`/climbs/${id}`} className="link">
            {name}
          </Link>{" "}
          {[title, unit, ticket, who].filter(Boolean).join(" · ")}
        </p>
      ))}
    </section>
  );
};
