import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import { toHeading } from "../../ui/focus";
import { count, inMonth, onDay, percent, plural, tenths } from "../../ui/format";
import { Heading, useTitle } from "../../ui/Heading";
import { LoadFailed, Loading } from "../../ui/States";
import { Titled } from "../../ui/Titled";
import { allTogether } from "./nudgePlot";
import { type Followed, type Month, monthQuery, nudgesQuery, type WhatToChange } from "./queries";
import { ranked } from "./ranked";

/** What is planned is a short list too. */
const PLANNED = 5;

/** A month of the desk on one page, to print or to send on: what took its time, what was changed, what came of it. */
export const MonthPage = () => {
  const [address, setAddress] = useSearchParams();
  const wanted = address.get("month") ?? undefined;
  const { data, error, refetch } = useQuery(monthQuery(wanted));
  const nudges = useQuery(nudgesQuery).data;
  useTitle("The month", data ? inMonth(data.month) : undefined);
  // It stands outside the shell: until its heading is there, and where it cannot be had, the keyboard is on the page.
  useEffect(toHeading, []);
  return (
    <main tabIndex={-1} className="mx-auto max-w-[46rem] px-6 py-6 outline-none print:max-w-none print:px-0">
      <p className="flex flex-wrap items-center gap-4 print:hidden">
        <Link to="/" className="link">
          To the desk
        </Link>
        <button type="button" className="link" onClick={() => window.print()}>
          Print
        </button>
        <label className="ml-auto flex items-center gap-2">
          <span className="text-faint">Month</span>
          <input
            type="month"
            className="field"
            value={data?.month ?? wanted ?? ""}
            onChange={({ target }) => target.value && setAddress({ month: target.value }, { replace: true })}
          />
        </label>
      </p>
      {data ? (
        <Report month={data} nudges={nudges} />
      ) : error ? (
        <LoadFailed error={error} onRetry={refetch} />
      ) : (
        <Loading />
      )}
    </main>
  );
};

const sum = (numbers: readonly number[]) => numbers.reduce((whole, one) => whole + one, 0);

const Report = ({ month, nudges }: { month: Month; nudges: WhatToChange | undefined }) => {
  const cases = sum(month.symptoms.map((one) => one.cases));
  const hours = sum(month.symptoms.map((one) => one.minutes)) / 60;
  const before = {
    cases: sum(month.symptoms.map((one) => one.cases_before)),
    hours: sum(month.symptoms.map((one) => one.minutes_before)) / 60,
  };
  return (
    <>
      <Heading isNamedBelow className="mt-4 font-bold text-title">
        The service desk in {inMonth(month.month)}
      </Heading>
      <p className="mt-2 text-lead">
        {plural(cases, "case")} closed in {tenths(hours)} hours; the month before, {count(before.cases)} in{" "}
        {tenths(before.hours)}.
      </p>
      <Changed month={month} nudges={nudges} />
      <Planned nudges={nudges} />
      <Symptoms month={month} />
    </>
  );
};

const Changed = ({ month, nudges }: { month: Month; nudges: WhatToChange | undefined }) => {
  const found = new Map<string, Followed>();
  for (const { playbook, followed } of nudges?.symptoms ?? [])
    for (const one of followed) found.set(`${playbook} ${one.edition}`, one);
  const together = allTogether([...found.values()]);
  return (
    <section className="mt-6 break-inside-avoid">
      <h2 className="font-bold text-title">What was changed, and what came of it</h2>
      {month.editions.length === 0 && <p className="text-faint">Nothing was published in this month.</p>}
      <ul className="mt-1">
        {month.editions.map((one) => {
          const followed = found.get(`${one.playbook} ${one.edition}`);
          return (
            <li key={`${one.playbook} ${one.edition}`} className="border-rule border-t py-2">
              <p>
                <b>{one.title}</b>, edition {one.edition}, {onDay(one.at)}, {one.who}: {one.note}
              </p>
              {followed && <p className="text-dense text-faint">{cameInWords(followed)}</p>}
            </li>
          );
        })}
      </ul>
      {together.changes > 0 && (
        <p className="mt-2 border-rule border-t pt-2">
          Of all changes whose result is known so far, {tenths(together.promised / 60)} hours a month were promised and{" "}
          {tenths(together.came / 60)} came.
        </p>
      )}
    </section>
  );
};

function cameInWords({ promised, came, since }: Followed): string {
  const said = `Promised ${tenths(promised.saving.mean)} minutes less a case, harm counted in`;
  return came
    ? `${said}; ${tenths(came.saving.mean)} came, by ${plural(since, "case")}.`
    : `${said}; what came of it is told after 30 cases.`;
}

const harmInPoints = (less: number) => `harm ${tenths(Math.abs(less))} points ${less < 0 ? "more" : "less"}`;

const Planned = ({ nudges }: { nudges: WhatToChange | undefined }) => {
  const planned = nudges ? ranked(nudges).slice(0, PLANNED) : [];
  if (planned.length === 0) return null;
  return (
    <section className="mt-6 break-inside-avoid">
      <h2 className="font-bold text-title">What is planned</h2>
      <ul className="mt-1">
        {planned.map(({ symptom, nudge }) => (
          <li key={`${symptom.playbook} ${nudge.key}`} className="border-rule border-t py-2">
            <p>
              <Titled text={nudge.says} />
            </p>
            <p className="text-dense text-faint">
              {symptom.title}. {tenths(nudge.people.mean / 60)} hours of people a month less (
              {tenths(nudge.people.low / 60)} to {tenths(nudge.people.high / 60)}), {harmInPoints(nudge.harm.mean)}, by{" "}
              {plural(nudge.cases, "case")}.
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
};

const Symptoms = ({ month }: { month: Month }) => (
  <section className="mt-6">
    <h2 className="font-bold text-title">What took the desk’s time</h2>
    <table className="mt-1 w-full">
      <thead>
        <tr className="text-dense text-faint">
          <th scope="col" className="text-left font-normal">
            symptom
          </th>
          <th scope="col" className="text-right font-normal">
            cases
          </th>
          <th scope="col" className="pl-6 text-right font-normal">
            hours
          </th>
          <th scope="col" className="pl-6 text-right font-normal">
            the month before
          </th>
          <th scope="col" className="pl-6 text-right font-normal">
            resolved here
          </th>
        </tr>
      </thead>
      <tbody>
        {month.symptoms.map((one) => (
          <tr key={one.playbook} className="border-rule border-t">
            <th scope="row" className="py-1 pr-3 text-left font-normal">
              {one.title}
            </th>
            <td className="text-right">{count(one.cases)}</td>
            <td className="text-right">{tenths(one.minutes / 60)}</td>
            <td className="text-right text-faint">{tenths(one.minutes_before / 60)}</td>
            <td className="text-right">{one.resolved.mean == null ? "–" : percent(one.resolved.mean)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
);
