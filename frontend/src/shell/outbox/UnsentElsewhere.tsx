import { Link } from "react-router";
import { AlertStrip } from "../../ui/AlertStrip";
import { plural } from "../../ui/format";
import { useAllUnsent } from "./useOutbox";

/** On any other page: that moves of guided cases still wait in this browser, and of which. */
export const UnsentElsewhere = () => {
  const unsent = useAllUnsent();
  if (unsent.length === 0) return null;
  const cases = new Map(unsent.map(({ climbId, called }) => [climbId, called]));
  return (
    <AlertStrip>
      {plural(unsent.length, "thing")} of guided cases {unsent.length === 1 ? "has" : "have"} not reached the server
      yet, and {unsent.length === 1 ? "is" : "are"} sent again by {unsent.length === 1 ? "itself" : "themselves"}:{" "}
      {[...cases].map(([climbId, called], number) => (
        <span key={climbId}>
          {number > 0 && ", "}
          <Link to={`/climbs/${climbId}`} className="link">
            {called || "a case"}
          </Link>
        </span>
      ))}
    </AlertStrip>
  );
};
