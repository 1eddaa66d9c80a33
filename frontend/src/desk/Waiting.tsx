import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { remarksQuery } from "../advice/remarks/queries";
import { OffLadder, Wrong } from "../advice/remarks/Remarks";
import { openClimbsQuery, symptomsQuery } from "../api/lists";
import type { SymptomCard } from "../api/types";
import { WAITS_FOR } from "../cases/climb/watch";
import { leftOutQuery } from "../cases/log/queries";
import { OTHER_NAMES } from "../symptom/evidence/OtherNames";
import { count, moment, plural } from "../ui/format";
import { dueBy, oddNames, spares } from "./inWords";

/** What waits for the lead: drafts that agents do not follow yet, what is due, names and lines that no figure counts, what
 * agents say. */
export const Waiting = () => {
  const { data: leftOut } = useQuery(leftOutQuery);
  const { data: remarks } = useQuery(remarksQuery);
  const { data: climbs } = useQuery(openClimbsQuery);
  const { data: symptoms } = useQuery(symptomsQuery);
  if (!leftOut || !remarks || !climbs || !symptoms) return null;
  const drafts = symptoms.filter(({ unpublished }) => unpublished);
  // What runs by itself is told to whoever put it aside.
  const due = dueBy(climbs, new Date()).filter(({ waits }) => waits !== "runs");
  const odd = oddNames(symptoms);
  const said = remarks.remarks.length + remarks.off_ladder.length;
  if (drafts.length + due.length + leftOut.total + said === 0 && !odd) return null;
  return (
    <section aria-labelledby="waiting" className="mb-6">
      <h2 id="waiting" className="font-semibold text-lead">
        Waiting for you
      </h2>
      <ul className="mt-1">
        {due.map(({ id, case: name, title, waits, until, part }) => (
          <Item key={id} to={`/climbs/${id}`} says={`${title}, ${name}`}>
            {waits && WAITS_FOR[waits]}
            {part && `: ${part}`}
            {until && ` until ${moment(until)}`}
          </Item>
        ))}
        {drafts.map((symptom) => (
          <Draft key={symptom.id} symptom={symptom} />
        ))}
        {odd && (
          <Item to={`/playbooks/${odd.where}/evidence#${OTHER_NAMES}`} says={`${plural(odd.names, "name")} to decide`}>
            {plural(odd.attempts, "attempt")} that count for no rung until you say what they were; most under “
            {odd.most}”, {count(odd.most_attempts)}
          </Item>
        )}
        {leftOut.total > 0 && (
          <Item to="/left-out" says={`${plural(leftOut.total, "line")} left out`}>
            of {[...new Set(leftOut.lines.map((line) => line.source))].join(", ")}: they could not be read and are in no
            figure
          </Item>
        )}
      </ul>
      {remarks.remarks.length > 0 && <Wrong remarks={remarks.remarks} />}
      {remarks.off_ladder.length > 0 && <OffLadder done={remarks.off_ladder} />}
    </section>
  );
};

const Draft = ({ symptom: { id, title, edition, unpublished } }: { symptom: SymptomCard }) => {
  if (!unpublished) return null;
  return (
    <Item to={`/playbooks/${id}/ladder`} says={`${title}: ${edition ? "draft not published" : "never published"}`}>
      {unpublished.held_by ? (
        <span className="text-clay">{unpublished.held_by}</span>
      ) : (
        unpublished.less !== null && `${spares(unpublished.less)} as judged`
      )}
      {(unpublished.held_by || unpublished.less !== null) && " · "}changed {moment(unpublished.at)}
    </Item>
  );
};

const Item = ({ to, says, children }: { to: string; says: string; children: ReactNode }) => (
  <li className="border-rule border-t py-2 first:border-t-0">
    <Link to={to} className="font-semibold">
      {says}
    </Link>
    <p className="text-dense text-faint">{children}</p>
  </li>
);
