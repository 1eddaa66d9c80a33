import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { leftOutQuery } from "../cases/queries";
import { plural } from "../ui/format";

/** What was brought in and waits for somebody's decision; nothing when nothing does. */
export const Waiting = () => {
  const { data: leftOut } = useQuery(leftOutQuery);
  if (!leftOut?.total) return null;
  const sources = [...new Set(leftOut.lines.map((line) => line.source))];
  return (
    <section aria-labelledby="waiting" className="mt-6">
      <h2 id="waiting" className="font-semibold text-lead">
        Waiting for you
      </h2>
      <p className="mt-1">
        <Link to="/left-out" className="link">
          {plural(leftOut.total, "line")}
        </Link>{" "}
        <span className="text-faint">of {sources.join(", ")} could not be read and are in no figure.</span>
      </p>
    </section>
  );
};
