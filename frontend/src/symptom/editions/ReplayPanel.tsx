import { useQuery } from "@tanstack/react-query";
import type { Comparison, ObservedEditions, Replay, ReplayedPart } from "../../api/types";
import { Asked } from "../../ui/Asked";
import { ColumnNames } from "../../ui/ColumnNames";
import {
  count,
  difference,
  inMonth,
  lessOrMore,
  moreOrLess,
  percent,
  plural,
  points,
  rangeInWords,
  tenths,
  turned,
} from "../../ui/format";
import { useStaying } from "../../ui/useStaying";
import { replayQuery } from "./queries";
import { sparedPlot } from "./replayPlot";

interface ReplayPanelProps {
  playbookId: string;
  before: string;
  after: string;
  /** Of the draft, while one of the two is the draft. */
  revision: number | undefined;
  comparison: Comparison;
}

/** Two ladders on the cases already logged, and two editions as their own cases went. */
export const ReplayPanel = ({ playbookId, before, after, revision, comparison }: ReplayPanelProps) => {
  const { data, error } = useQuery(replayQuery(playbookId, before, after, revision));
  const found = useStaying(data?.answer, `${playbookId} ${before} ${after}`);
  if (error) return <p className="mt-6 max-w-prose text-faint">On the logged cases: {error.message}</p>;
  if (!found) {
    return (
      <p role="status" className="mt-6 text-faint">
        {data?.says ?? "Working out both ladders on the logged cases."}
      </p>
    );
  }
  const called = { before: calledIn(before), after: calledIn(after) };
  return (
    <div className="mt-6 space-y-6">
      <OnLoggedCases replay={found.replay} called={called} />
      {found.observed && <AsTheyWent observed={found.observed} called={called} comparison={comparison} />}
    </div>
  );
};

const calledIn = (version: string) => (version === "draft" ? "the draft" : `edition ${version}`);

interface Called {
  before: string;
  after: string;
}

const OnLoggedCases = ({ replay, called }: { replay: Replay; called: Called }) => {
  const { less, against, ladder } = replay;
  if (!less || !against) return null;
  const rows = [
    { name: "effort minutes a case", figure: "effort" as const, inWords: tenths },
    { name: "harm points a case", figure: "harm" as const, inWords: points },
    { name: "handed off", figure: "handed_off" as const, inWords: percent },
  ];
  return (
    <section aria-label="On the logged cases">
      <h3 className="font-semibold">On the cases already logged</h3>
      <p className="max-w-prose text-dense">
        Climbed again on {plural(replay.cases, "case")}, {called.after} against {called.before}, minutes of effort a
        case: {lessOrMore(less.effort, LEAST, tenths)}.
      </p>
      <Beside
        says="on the logged cases"
        called={called}
        rows={rows.map(({ name, figure, inWords }) => ({
          name,
          before: inWords(against[figure].mean),
          after: inWords(ladder[figure].mean),
          between: rangeInWords(turned(less[figure]), LEAST_OF[figure], inWords),
        }))}
      />
      <div className="mt-3 flex flex-wrap gap-x-10 gap-y-3">
        <Spared says="by month" called={called} parts={replay.months} name={inMonth} />
        {replay.units.length > 1 && (
          <Spared says="by sort of unit" called={called} parts={replay.units} name={(says) => says} />
        )}
      </div>
      <p className="mt-3 max-w-prose text-dense text-faint">{replay.assumes}</p>
    </section>
  );
};

interface BesideProps {
  says: string;
  called: Called;
  rows: readonly { name: string; before: string; after: string; between: string }[];
}

/** Figures of two ladders beside each other, with the interval of what they differ by. */
const Beside = ({ says, called, rows }: BesideProps) => (
  <table className="mt-2 text-dense">
    <thead>
      <tr className="text-faint">
        <th scope="col" className="pr-6 text-left font-normal max-lg:pr-3">
          {says}
        </th>
        {[called.before, called.after].map((name) => (
          <th key={name} scope="col" className="whitespace-nowrap pr-6 text-right font-normal max-lg:pr-3">
            {name}
          </th>
        ))}
        <th scope="col" className="text-right font-normal">
          difference, 95 %
        </th>
      </tr>
    </thead>
    <tbody>
      {rows.map((row) => (
        <tr key={row.name}>
          <th scope="row" className="pr-6 text-left font-normal max-lg:pr-3">
            {row.name}
          </th>
          <td className="pr-6 text-right max-lg:pr-3">{row.before}</td>
          <td className="pr-6 text-right max-lg:pr-3">{row.after}</td>
          <td className="whitespace-nowrap text-right">
            <Asked how="95 % interval of the difference.">
              <span className="text-plum">{row.between}</span>
            </Asked>
          </td>
        </tr>
      ))}
    </tbody>
  </table>
);

const WIDTH = 150;
const ROW = 18;

interface SparedProps {
  says: string;
  called: Called;
  parts: readonly ReplayedPart[];
  name: (says: string) => string;
}

/** Effort minutes spared a case, part by part, with their intervals. */
const Spared = ({ says, called, parts, name }: SparedProps) => {
  const spans = parts.flatMap(({ less }) => (less ? [less.effort] : []));
  if (spans.length !== parts.length) return null;
  const plot = sparedPlot(spans, WIDTH);
  return (
    <table className="text-dense">
      <caption className="text-left text-faint">
        minutes a case, {called.after} against {called.before}, {says}
      </caption>
      <ColumnNames of={[says, "drawn", "minutes", "cases"]} />
      <tbody>
        {parts.map((part, number) => {
          const mark = plot.marks[number];
          const spared = spans[number];
          return (
            <tr key={part.says}>
              <th scope="row" className="max-w-60 pr-3 text-left font-normal">
                {name(part.says)}
              </th>
              <td aria-hidden="true" className="max-md:hidden">
                {mark && (
                  <svg
                    aria-hidden="true"
                    width={WIDTH + 10}
                    height={ROW}
                    viewBox={`-5 0 ${WIDTH + 10} ${ROW}`}
                    className="block"
                  >
                    <line x1={plot.nought} x2={plot.nought} y1={0} y2={ROW} className="stroke-rule" />
                    <line
                      x1={mark.low}
                      x2={mark.high}
                      y1={ROW / 2}
                      y2={ROW / 2}
                      className="stroke-plum"
                      strokeWidth={2}
                    />
                    <circle cx={mark.dot} cy={ROW / 2} r={3.5} className="fill-plum" />
                  </svg>
                )}
              </td>
              <td className="pl-2 text-right">{spared && difference(-spared.mean, LEAST, tenths)}</td>
              <td className="pl-3 text-right text-faint">{count(Math.round(part.cases))}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
};

interface AsTheyWentProps {
  observed: ObservedEditions;
  called: Called;
  comparison: Comparison;
}

const AsTheyWent = ({ observed, called, comparison }: AsTheyWentProps) => {
  const promised = comparison.before.effort - comparison.after.effort;
  const rows = [
    { name: "minutes from opening to closing", figure: "minutes" as const, inWords: tenths },
    { name: "resolved here", figure: "resolved" as const, inWords: percent },
    { name: "handed off", figure: "handed_off" as const, inWords: percent },
  ];
  return (
    <section aria-label="As their own cases went">
      <h3 className="font-semibold">As their own cases went</h3>
      <p className="max-w-prose text-dense">
        {plural(observed.cases_before, "case")} of {called.before} and {count(observed.cases_after)} of {called.after},
        each weighted to the units of both. Minutes on the clock with {called.after}:{" "}
        {moreOrLess(observed.more.minutes, LEAST, tenths)}. The forecast promised, in minutes of effort:{" "}
        {difference(-promised, LEAST, tenths)}.
      </p>
      <Beside
        says="observed"
        called={called}
        rows={rows.map(({ name, figure, inWords }) => ({
          name,
          before: inWords(observed.before[figure].mean),
          after: inWords(observed.after[figure].mean),
          between: rangeInWords(observed.more[figure], LEAST_OF[figure], inWords),
        }))}
      />
      {observed.passed_over.length > 0 && (
        <p className="mt-1 max-w-prose text-dense text-faint">
          Too few cases of both to compare where {observed.passed_over.join("; or where ")}.
        </p>
      )}
    </section>
  );
};

const LEAST = 0.05;
/** Below what a difference is none, by figure. */
const LEAST_OF = { effort: 0.05, harm: 0.005, handed_off: 0.0005, minutes: 0.05, resolved: 0.0005 } as const;
