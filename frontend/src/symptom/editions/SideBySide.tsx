import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { paceInWords } from "../../advice/nudges/pace";
import { meQuery } from "../../api/me";
import { count, moreOrLess, onDay, percent, plural, tenths } from "../../ui/format";
import { readNumber } from "../../ui/number";
import { say } from "../../ui/say";
import { useSending } from "../../ui/useSending";
import { useSettled } from "../../ui/useSettled";
import { begunSideBySide, type SideBySideView, sideBySideKey, sideBySideQuery, stoppedSideBySide } from "./queries";
import { trialPlot } from "./trialPlot";

interface SideBySideProps {
  playbookId: string;
  before: string;
  after: string;
}

type Trial = NonNullable<SideBySideView["trial"]>;

/** Two editions at once: how they stand, or what it would take to settle which of them is better. */
export const SideBySide = ({ playbookId, before, after }: SideBySideProps) => {
  const [difference, setDifference] = useState("");
  const typed = readNumber(difference) || undefined;
  const wanted = useSettled(typed);
  const [a, b] = [Number(before), Number(after)].toSorted((one, other) => one - other);
  const pair = a && b && a !== b ? { a, b } : undefined;
  const { data } = useQuery(sideBySideQuery(playbookId, pair, wanted));
  const isLead = useQuery(meQuery).data?.person?.role === "lead";
  const client = useQueryClient();
  const show = (view: SideBySideView) => client.setQueriesData({ queryKey: sideBySideKey(playbookId) }, view);
  // It may have been done though nobody was told, or by somebody else meanwhile.
  const look = () => void client.invalidateQueries({ queryKey: sideBySideKey(playbookId) });
  const beginning = useSending({
    mutationFn: () => begunSideBySide(playbookId, { ...(pair ?? { a: 0, b: 0 }), difference: typed ?? null }),
    onSuccess: (view) => {
      show(view);
      say("Both editions run side by side from the next case on");
    },
    onSettled: look,
  });
  const stopping = useSending({
    onMutate: beginning.reset,
    mutationFn: () => stoppedSideBySide(playbookId),
    onSuccess: (view) => {
      show(view);
      say("Stopped; agents follow one edition again");
    },
    onSettled: look,
  });
  if (!data || (!data.trial && !data.plan)) return null;
  const isRunning = data.trial?.ended === null;
  const failed = beginning.error ?? stopping.error;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    beginning.mutate();
  };
  return (
    <section aria-label="Side by side" className="mt-6 border-rule border-t pt-4">
      <h3 className="font-semibold">Side by side</h3>
      {data.trial && <TrialState trial={data.trial} />}
      {isRunning && isLead && (
        <button type="button" className="button mt-2" disabled={stopping.isPending} onClick={() => stopping.mutate()}>
          Stop it
        </button>
      )}
      {!isRunning && pair && data.plan && isLead && (
        <form className="mt-2" onSubmit={submit}>
          <p className="max-w-prose text-dense">
            Where the log cannot tell, both can run at once: a fair coin gives each new case one of them, agents see
            nothing but the ladder to follow, and it stops by itself.
          </p>
          <div className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2">
            <label className="block">
              <span className="label">Difference to be found, effort minutes a case</span>
              <input
                type="text"
                inputMode="decimal"
                className="field w-28"
                placeholder={tenths(data.plan.difference)}
                value={difference}
                onChange={({ target }) => setDifference(target.value)}
              />
            </label>
            <button type="submit" className="button" data-tone="main" disabled={beginning.isPending}>
              Run editions {pair.a} and {pair.b} side by side
            </button>
          </div>
          <p className="mt-2 max-w-prose text-dense text-faint" role="status">
            {planInWords(data.plan, data.pace)}
          </p>
        </form>
      )}
      {failed && (
        <p role="alert" className="mt-2 text-clay">
          {failed.message}
        </p>
      )}
    </section>
  );
};

const MONTHS_LONG = 26;

function planInWords(
  { difference, cases, weeks, settled, worth }: NonNullable<SideBySideView["plan"]>,
  pace: SideBySideView["pace"],
): string {
  const long = weeks > MONTHS_LONG * 4 ? " That is long: a smaller desk should look for a larger difference." : "";
  return (
    `To find ${tenths(difference)} minutes a case takes about ${plural(cases, "case")}, ` +
    `${plural(Math.ceil(weeks), "week")} if each month brings ${pace ? paceInWords(pace) : "as many cases"}; by then it is settled with ${percent(settled)}. ` +
    `The answer is worth about ${count(Math.round(worth / 60))} hours a year.${long}`
  );
}

const WHY: Record<NonNullable<Trial["stopped"]>, (trial: Trial) => string> = {
  decided: ({ better }) => `It is decided: edition ${better} costs less.`,
  "no-difference": ({ difference }) => `There is no difference of ${tenths(difference)} minutes a case.`,
  "not-settled": () => "This desk has too few cases to settle it.",
  harm: ({ better }) => `Harm was seen on one side: edition ${better} is the milder one.`,
};

const TrialState = ({ trial }: { trial: Trial }) => {
  const { a, b, now, began, ended, planned } = trial;
  return (
    <div className="max-w-prose text-dense">
      <p>
        Editions {a} and {b} {ended ? "ran" : "run"} side by side {ended ? "from" : "since"} {onDay(began)}
        {ended && ` to ${onDay(ended)}`}: {count(now.count_a)} and {plural(now.count_b, "case")}, of about{" "}
        {count(planned)} that it was planned for.
      </p>
      {ended && (
        <p className="font-semibold">
          {trial.stopped ? WHY[trial.stopped](trial) : "It was stopped before it was settled."}
          {trial.better !== null && ` Agents follow edition ${trial.better}.`}
        </p>
      )}
      <p>
        {now.difference === null || now.low === null || now.high === null
          ? "Nothing can be said before 40 cases."
          : `Edition ${b} against edition ${a}, minutes a case with harm counted in: ${moreOrLess({ mean: now.difference, low: now.low, high: now.high }, LEAST, tenths)}. The interval stays valid however often you look.`}
      </p>
      <Interval trial={trial} />
      <p className="text-faint">
        Severe harm: {count(now.harmed_a)} and {count(now.harmed_b)}.
        {now.capped > 0 &&
          ` ${plural(now.capped, "case")} cost more than the cap for one case, and counted as the cap.`}
      </p>
    </div>
  );
};

const LEAST = 0.05;

const BOX = { width: 300, height: 34 };

/** The difference with its interval, about nothing, and the size of difference that is looked for. */
const Interval = ({ trial }: { trial: Trial }) => {
  const { difference, low, high } = trial.now;
  if (difference === null || low === null || high === null) return null;
  const plot = trialPlot({ difference, low, high }, trial.difference, BOX.width);
  return (
    <svg
      aria-hidden="true"
      width={BOX.width + 12}
      height={BOX.height}
      viewBox={`-6 0 ${BOX.width + 12} ${BOX.height}`}
      className="my-1 block max-w-full"
    >
      <rect x={plot.least} y={4} width={plot.most - plot.least} height={14} className="fill-well" />
      <line x1={0} x2={BOX.width} y1={11} y2={11} className="stroke-rule" />
      <line x1={plot.nought} x2={plot.nought} y1={0} y2={22} className="stroke-rail" />
      <line x1={plot.low} x2={plot.high} y1={11} y2={11} className="stroke-plum" strokeWidth={2.5} />
      <circle cx={plot.dot} cy={11} r={4.5} className="fill-plum" />
      <text x={0} y={BOX.height - 2} className="fill-faint text-tiny">
        edition {trial.b} costs less
      </text>
      <text x={BOX.width} y={BOX.height - 2} textAnchor="end" className="fill-faint text-tiny">
        more
      </text>
    </svg>
  );
};
