import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { SymptomCard } from "../api/types";
import { leftOutQuery } from "../cases/queries";
import { WAITS_FOR } from "../climb/watch";
import { remarksQuery } from "../remarks/queries";
import { OffLadder, Wrong } from "../remarks/Remarks";
import { openClimbsQuery, symptomsQuery } from "../shell/queries";
import { moment, plural } from "../ui/format";
import { dueBy, spares } from "./inWords";

/** What waits for the lead: drafts that agents do not follow yet, what is due, lines left out, what agents say. */
export const Waiting = () => {
  const { data: leftOut } = useQuery(leftOutQuery);
  const { data: remarks } = useQuery(remarksQuery);
  const { data: climbs } = useQuery(openClimbsQuery);
  const { data: symptoms } = useQuery(symptomsQuery);
  if (!leftOut || !remarks || !climbs || !symptoms) return null;
  const drafts = symptoms.filter(({ unpublished }) => unpublished);
  const due = dueBy(climbs, new Date());
  if (drafts.length + due.length + leftOut.total + remarks.remarks.length + remarks.off_ladder.length === 0)
    return null;
  return (
    <section aria-labelledby="waiting" className="mb-6">
      <h2 id="waiting" className="font-semibold text-lead">
        Waiting for you
      </h2>
      <ul className="mt-1">
        {due.map(({ id, case: name, title, waits, until }) => (
          <Item key={id} to={`/climbs/${id}`} says={`${title}, ${name}`}>
            {waits && WAITS_FOR[waits]}
            {until && ` until ${moment(until)}`}
          </Item>
        ))}
        {drafts.map((symptom) => (
          <Draft key={symptom.id} symptom={symptom} />
        ))}
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
