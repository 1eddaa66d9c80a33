import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { Asked } from "../../ui/Asked";
import { Dialog, DialogActions } from "../../ui/Dialog";
import { count, difference, lessOrMore, percent, plural, points, tenths } from "../../ui/format";
import { saveText } from "../../ui/save";
import { Titled } from "../../ui/Titled";
import { csvOf } from "./csv";
import { DriftRow } from "./DriftRow";
import { OPENED } from "./NudgeStrip";
import { mostOf, outlineOf, savingMark } from "./nudgePlot";
import { paceInWords } from "./pace";
import { type Nudge, nudgesQuery, type SymptomNudges, useDecline } from "./queries";
import { ranked } from "./ranked";

/** More are folded: a list of everything is a list of nothing. */
const SHOWN = 5;
const BAR = 132;
const THUMB = { width: 56, height: 60 };

/** What to do next, over all symptoms, by what it would save the desk in a month. */
export const Nudges = () => {
  const { data, error } = useQuery(nudgesQuery);
  const [isOpen, setOpen] = useState(false);
  if (!data) {
    return error ? (
      <p className="mb-6 border-brass border-l-4 pl-3">What to do next cannot be told now: {error.message}</p>
    ) : (
      <section aria-labelledby="next" aria-busy="true" className="mb-8">
        <Title />
        <p className="text-faint">Being read …</p>
      </section>
    );
  }
  const found = ranked(data);
  const drifts = data.symptoms.flatMap(({ playbook, title, drifts: own }) =>
    own.map((drift) => ({ playbook, title, drift })),
  );
  if (found.length + drifts.length === 0 && data.waiting === 0) return null;
  const most = mostOf(found.map(({ nudge }) => nudge.people));
  const shown = isOpen ? found : found.slice(0, SHOWN);
  return (
    <section aria-labelledby="next" className="mb-8">
      <Title />
      <p className="text-faint">
        {drifts.length > 0
          ? "Steps that have stopped working come first, then the biggest savings."
          : "Biggest savings first."}{" "}
        Bars show the hours of people saved a month with their 95 % interval. Savings that could be chance are not
        listed.
        {data.waiting > 0 && (
          <span role="status">
            {" "}
            {count(data.of - data.waiting)} of {plural(data.of, "symptom")} looked through so far
            {found.length === 0 && ": nothing to suggest yet"}.
          </span>
        )}
      </p>
      <ol className="mt-3 border-rule border-t">
        {drifts.map((one) => (
          <DriftRow key={one.drift.key} {...one} />
        ))}
        {shown.map(({ symptom, nudge }) => (
          <OneNudge key={`${symptom.playbook} ${nudge.key}`} symptom={symptom} nudge={nudge} most={most} />
        ))}
      </ol>
      <p className="mt-2 flex flex-wrap gap-x-4 text-dense">
        {found.length > SHOWN && (
          <button type="button" className="link" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? "Fewer" : `${count(found.length - SHOWN)} more that save less`}
          </button>
        )}
        <Link to="/month" className="link">
          The month on a page
        </Link>
        {found.length > 0 && (
          <>
            <button
              type="button"
              className="link"
              onClick={() => saveText("what to do next.csv", csvOf(data), "text/csv")}
            >
              Save as CSV
            </button>
            <a href="/api/nudges" download="what to do next.json" className="link">
              Save as JSON
            </a>
          </>
        )}
      </p>
    </section>
  );
};

const Title = () => (
  <h2 id="next" className="font-bold text-title">
    What to do next
  </h2>
);

type Symptom = Omit<SymptomNudges, "nudges">;

interface OneNudgeProps {
  symptom: Symptom;
  nudge: Nudge;
  most: number;
}

const OneNudge = ({ symptom, nudge, most }: OneNudgeProps) => {
  const [isDeclining, setDeclining] = useState(false);
  const way = nudge.ladder
    ? { to: `/playbooks/${symptom.playbook}/ladder?nudge=${nudge.key}`, says: "Open in draft" }
    : { to: `/playbooks/${symptom.playbook}/ladder?step=${nudge.steps[0]}`, says: "Open the step" };
  return (
    <li className="grid grid-cols-[4rem_minmax(0,1fr)_9.5rem_6.5rem] items-start gap-x-4 gap-y-2 border-rule border-b py-3 max-md:grid-cols-[minmax(0,1fr)_6.5rem]">
      <div className="max-md:hidden">
        <Before nudge={nudge} />
      </div>
      <div>
        <p className="text-dense text-faint">{symptom.title}</p>
        <p className="text-lead">
          <Titled text={nudge.says} />
        </p>
        <p className="text-dense text-faint">{nudge.why}</p>
      </div>
      <div className="max-md:col-start-1">
        <Asked how={how(nudge, symptom.pace)}>
          {nudge.saving.mean === 0 ? (
            <span className="block text-dense">no other order pays yet</span>
          ) : nudge.people.mean > 0 ? (
            <>
              <span className="block font-semibold">{hours(nudge.people.mean)} a month</span>
              <Saving nudge={nudge} most={most} />
              <span className="block text-dense text-faint">
                {tenths(nudge.people.low / 60)} to {tenths(nudge.people.high / 60)}
              </span>
              <Harm nudge={nudge} />
            </>
          ) : (
            <>
              <span className="block font-semibold">
                <Harm nudge={nudge} />
              </span>
              <span className="block text-dense text-faint">
                {nudge.people.mean > -LEAST_MINUTES
                  ? "for the same hours"
                  : `for ${hours(-nudge.people.mean)} more a month`}
              </span>
            </>
          )}
        </Asked>
      </div>
      <div className="flex flex-col items-start gap-1 text-dense max-md:col-start-2 max-md:row-start-1">
        <Link to={way.to} state={OPENED} className="link font-semibold">
          {way.says}
        </Link>
        <Link to={`/playbooks/${symptom.playbook}/evidence?step=${nudge.steps[0]}`} className="link">
          {plural(nudge.cases, "case")}
        </Link>
        <button type="button" className="link text-faint" onClick={() => setDeclining(true)}>
          not now
        </button>
      </div>
      <Decline symptom={symptom} nudge={nudge} isOpen={isDeclining} onOpenChange={setDeclining} />
    </li>
  );
};

const LEAST_HARM = 0.05;
/** Below what difference of minutes a month two are the same: a twentieth of an hour. */
const LEAST_MINUTES = 3;
const hours = (minutes: number) => `${tenths(Math.abs(minutes) < LEAST_MINUTES ? 0 : minutes / 60)} h`;

/** Harm points a month. */
const Harm = ({ nudge: { harm } }: { nudge: Nudge }) => (
  <span className={`block text-dense ${harm.mean < -LEAST_HARM ? "text-clay" : "text-moss"}`}>
    {Math.abs(harm.mean) < LEAST_HARM
      ? "same harm"
      : `harm ${tenths(Math.abs(harm.mean))} points ${harm.mean > 0 ? "less" : "more"}`}
  </span>
);

/** Every part of it, none added up. */
function how(
  { people, waiting, parts, harm: spared, resolved_before, resolved_after, by_person, cases }: Nudge,
  pace: Symptom["pace"],
): string {
  const inHours = (n: number) => tenths(n / 60);
  const each = (["caller", "desk", "visit"] as const)
    .map((who) => ({ who, by: by_person[who] ?? 0 }))
    .filter(({ by }) => Math.abs(by) >= 1)
    .map(({ who, by }) => `${WHO[who]} ${difference(-by, LEAST_MINUTES, inHours)}`);
  return [
    `Learned from ${count(cases)} cases. Hours of people a month: ${lessOrMore(people, LEAST_MINUTES, inHours)}, journeys included${each.length > 0 ? `; hands-on of ${each.join(", ")}` : ""}.`,
    `Hours of waiting: ${lessOrMore(waiting, LEAST_MINUTES, inHours)}.`,
    Math.abs(parts.mean) >= 0.05 ? `Parts: ${lessOrMore(parts, 0.05, tenths)}.` : "",
    `Harm points: ${lessOrMore(spared, 0.005, points)}.`,
    `Resolved here ${percent(resolved_before)} before, ${percent(resolved_after)} after.`,
    `Assumes a month brings ${paceInWords(pace)}.`,
  ]
    .filter(Boolean)
    .join(" ");
}

const WHO = { caller: "the caller", desk: "the desk", visit: "a technician" };

const Saving = ({ nudge, most }: { nudge: Nudge; most: number }) => {
  const mark = savingMark(nudge.people, most, BAR);
  return (
    <svg aria-hidden="true" width={BAR + 8} height={16} className="my-0.5 block">
      <line x1={0} x2={BAR} y1={8} y2={8} className="stroke-rule" strokeWidth={2} />
      <rect x={0} y={4} width={mark.dot} height={8} className="fill-slate" />
      <line x1={mark.low} x2={mark.high} y1={8} y2={8} className="stroke-ink" strokeWidth={2} />
      <circle cx={mark.dot} cy={8} r={4} className="fill-paper stroke-ink" strokeWidth={1.6} />
    </svg>
  );
};

/** The ladder as it is, and dotted as it would be. */
const Before = ({ nudge }: { nudge: Nudge }) => {
  const [now, then] = [nudge.before, nudge.after].map((one) => outlineOf(one, THUMB.width, THUMB.height));
  if (!now || !then) return null;
  return (
    <svg aria-hidden="true" width={THUMB.width + 4} height={THUMB.height} className="block">
      <path d={now.body} className="fill-well" />
      {[now.leftRail, now.rightRail].map((rail) => (
        <path key={rail} d={rail} className="fill-none stroke-rail" strokeWidth={1.5} />
      ))}
      {[then.leftRail, then.rightRail].map((rail) => (
        <path key={rail} d={rail} className="fill-none stroke-ink" strokeWidth={1.2} strokeDasharray="2 2" />
      ))}
    </svg>
  );
};

interface DeclineProps {
  symptom: Symptom;
  nudge: Nudge;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
}

const Decline = ({ isOpen, onOpenChange, ...form }: DeclineProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Not now"
    says="It comes back when new cases change what it would save. Your reason is kept with your name."
  >
    <DeclineForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const DeclineForm = ({ symptom, nudge, onOpenChange }: Omit<DeclineProps, "isOpen">) => {
  const [why, setWhy] = useState("");
  const declining = useDecline();
  const decline = (isForGood: boolean) =>
    declining.mutate(
      { playbook: symptom.playbook, key: nudge.key, isForGood, why: why.trim() },
      { onSuccess: () => onOpenChange(false) },
    );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!declining.isPending) decline(false);
  };
  return (
    <form className="space-y-4" onSubmit={submit}>
      <p>
        <Titled text={nudge.says} />
      </p>
      <div>
        <label htmlFor="why-not" className="label">
          Why
        </label>
        <input
          id="why-not"
          className="field w-full"
          maxLength={300}
          value={why}
          onChange={(event) => setWhy(event.target.value)}
        />
      </div>
      {declining.error && (
        <p role="alert" className="text-clay">
          {declining.error.message}
        </p>
      )}
      <button
        type="button"
        className="link text-dense"
        disabled={!why.trim() || declining.isPending}
        onClick={() => decline(true)}
      >
        Never show it again, for this reason
      </button>
      <DialogActions
        leave="Keep it"
        label="Not now"
        isDisabled={declining.isPending}
        onLeave={() => onOpenChange(false)}
      />
    </form>
  );
};
