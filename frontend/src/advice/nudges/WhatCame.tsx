import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Asked } from "../../ui/Asked";
import { moment, percent, plural, points, type Span, tenths } from "../../ui/format";
import { allTogether, mostOf, savingMark } from "./nudgePlot";
import { type Followed, nudgesQuery } from "./queries";

const BAR = 132;

/** What came of what was changed. */
export const WhatCame = () => {
  const { data } = useQuery(nudgesQuery);
  if (!data) return null;
  const all = data.symptoms.flatMap(({ followed: own, ...symptom }) => own.map((followed) => ({ symptom, followed })));
  if (all.length === 0) return null;
  return (
    <section aria-labelledby="came" className="mb-8">
      <h2 id="came" className="font-bold text-title">
        What came of it
      </h2>
      <Together all={all.map(({ followed }) => followed)} countedOn={data.counted_on} />
      <ul className="mt-3 border-rule border-t">
        {all.map(({ symptom, followed }) => (
          <OneFollowed key={`${symptom.playbook} ${followed.edition}`} symptom={symptom} followed={followed} />
        ))}
      </ul>
    </section>
  );
};

interface Symptom {
  playbook: string;
  title: string;
}

const Together = ({ all, countedOn }: { all: readonly Followed[]; countedOn: number }) => {
  const { promised, came, changes } = allTogether(all);
  if (changes === 0) {
    return <p className="text-faint">What came of a change is told after 30 cases by the new edition, or 90 days.</p>;
  }
  const share = came / promised;
  return (
    <p className="text-faint">
      Of {tenths(promised / 60)} h a month that {plural(changes, "change")} promised, {tenths(came / 60)} h came (
      {percent(share)}).
      {countedOn < 1 &&
        ` Earlier changes saved less than promised here, so the figures above count on ${percent(countedOn)} of each promise.`}
    </p>
  );
};

const OneFollowed = ({ symptom, followed }: { symptom: Symptom; followed: Followed }) => {
  const { promised, came, observed, since } = followed;
  const most = mostOf([promised.saving, ...(came ? [came.saving] : [])]);
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-1 border-rule border-b py-3">
      <div className="min-w-0 flex-1 basis-80">
        <p className="text-dense text-faint">{symptom.title}</p>
        <p>
          <Link to={`/playbooks/${symptom.playbook}/editions`} className="link">
            Edition {followed.edition}
          </Link>
          , {moment(followed.published)}: {came ? told(came.saving) : `promised ${told(promised.saving)}`}
        </p>
        <p className="text-dense text-faint">
          {came
            ? `Promised ${told(promised.saving)}; ${plural(since, "case")} by it since.`
            : `${plural(since, "case")} by it so far.`}
          {observed && ` On the clock, its cases took ${told(observed)}.`}
        </p>
      </div>
      <Asked how={how(followed)}>
        <span className="block w-36 text-dense">
          <Mark span={promised.saving} most={most} isHollow />
          {came && <Mark span={came.saving} most={most} />}
          <span className="block text-faint">{came ? "promised, and came" : "promised"}</span>
        </span>
      </Asked>
    </li>
  );
};

function how({ promised, came }: Followed): string {
  const each = (word: string, { effort, harm }: Followed["promised"]) =>
    `${word}: effort ${tenths(effort.mean)} less, harm points ${points(harm.mean)} less.`;
  return [
    "Minutes a case, harm at the desk's rate counted in.",
    each("Promised", promised),
    came ? each("Came", came) : "",
    "The same estimate, from the cases of that time and from all cases now.",
  ]
    .filter(Boolean)
    .join(" ");
}

const Mark = ({ span, most, isHollow = false }: { span: Span; most: number; isHollow?: boolean }) => {
  const mark = savingMark(span, most, BAR);
  return (
    <svg aria-hidden="true" width={BAR + 8} height={14} viewBox={`-4 0 ${BAR + 8} 14`} className="block">
      <line x1={0} x2={BAR} y1={7} y2={7} className="stroke-rule" />
      <line x1={mark.low} x2={mark.high} y1={7} y2={7} className="stroke-plum" strokeWidth={2} />
      <circle cx={mark.dot} cy={7} r={4} className={isHollow ? "fill-paper stroke-plum" : "fill-plum"} />
    </svg>
  );
};

/** A positive mean is spared; the interval is of the same sign. */
const told = ({ mean, low, high }: Span) =>
  mean < 0
    ? `${tenths(-mean)} min more a case (${tenths(-high)} to ${tenths(-low)})`
    : `${tenths(mean)} min less a case (${tenths(low)} to ${tenths(high)})`;
