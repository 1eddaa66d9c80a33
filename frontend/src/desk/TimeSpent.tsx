import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { monthQuery } from "../advice/nudges/queries";
import { symptomsQuery } from "../api/lists";
import type { SymptomCard } from "../api/types";
import { count, inMonth, percent, plural } from "../ui/format";
import { changed } from "./inWords";

const SHOWN = 9;

/** Where the time went of this month and the last, beside what to do next: what takes most first. */
export const TimeSpent = () => {
  const { data: month } = useQuery(monthQuery(undefined));
  const { data: symptoms } = useQuery(symptomsQuery);
  if (!month || !symptoms) return null;
  const spent = month.symptoms
    .map((one) => ({
      ...one,
      spent: one.minutes + one.minutes_before,
      card: symptoms.find(({ id }) => id === one.playbook),
    }))
    .toSorted((one, other) => other.spent - one.spent);
  const most = spent[0]?.spent ?? 0;
  if (most === 0) return null;
  return (
    <section aria-labelledby="spent" className="mb-6">
      <h2 id="spent" className="font-semibold text-lead">
        Where the time goes
      </h2>
      <p className="text-dense text-faint">Hours on cases, {inMonth(month.before)} till now</p>
      <ul className="mt-1">
        {spent.slice(0, SHOWN).map(({ playbook, title, spent: minutes, card }) => (
          <li key={playbook} className="border-rule border-t py-1.5 first:border-t-0">
            <Link to={`/playbooks/${playbook}/evidence`} className="block truncate">
              {title}
            </Link>
            <p className="grid grid-cols-[minmax(0,1fr)_3.5rem_8rem] items-center gap-x-2 text-dense text-faint">
              <span aria-hidden="true" className="block h-1.5">
                <span className="block h-full bg-slate" style={{ width: `${(100 * minutes) / most}%` }} />
              </span>
              <span className="text-right">{count(Math.round(minutes / 60))} h</span>
              {card && <Ended card={card} />}
            </p>
          </li>
        ))}
      </ul>
      {spent.length > SHOWN && (
        <a href="#symptoms" className="link text-dense">
          all {plural(symptoms.length, "symptom")}
        </a>
      )}
    </section>
  );
};

const Ended = ({ card: { resolved, since } }: { card: SymptomCard }) => (
  <span className="text-right">
    {resolved.mean !== null && <span className="text-moss">{percent(resolved.mean)}</span>}
    {since && ` ${changed(since)}`}
  </span>
);
