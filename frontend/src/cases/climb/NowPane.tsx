import type { ReactNode } from "react";
import { Link } from "react-router";
import type { ClimbView, LooseEnd, Move, Search, TrialTest } from "../../api/types";
import { Baseline } from "./Baseline";
import { CurrentStep, isAskedFirst, StepAsked } from "./CurrentStep";
import { GoOn, LeadsInto } from "./GoOn";
import { HandOffText } from "./HandOffText";
import { InstructionList, Passages } from "./InstructionList";
import { PausedNow } from "./PausedNow";
import { SearchNow } from "./SearchNow";
import { WAITS_FOR } from "./watch";
import type { WaysThatWorked } from "./ways";

interface NowPaneProps {
  view: ClimbView;
  ways: WaysThatWorked;
  onRecord: (move: Move) => void;
  /** The answers: read, as they are seen, after the question and before what is done then. */
  children?: ReactNode;
}

/** The one current thing of a guided case. */
export const NowPane = (props: NowPaneProps) => {
  const { above, title, below, then } = content(props);
  return (
    <>
      <section aria-label="Now" className="row-start-1 overflow-auto px-10 py-6 max-md:px-5 max-md:py-4">
        {above && <p className="text-faint">{above}</p>}
        <h1 tabIndex={-1} className="mt-1 font-bold text-title outline-none">
          {title}
        </h1>
        {below}
      </section>
      {props.children}
      {then && (
        <section
          aria-label="What is done then"
          tabIndex={0}
          className="row-start-3 overflow-auto px-10 py-4 text-faint max-md:px-5"
        >
          <h2 className="font-semibold">What is done then</h2>
          {then}
        </section>
      )}
    </>
  );
};

interface Content {
  above?: string;
  title: string;
  below?: ReactNode;
  /** What follows once it is answered, to be read beforehand. */
  then?: ReactNode;
}

function content({ view, ways, onRecord }: NowPaneProps): Content {
  const { place, current, question } = view;
  if (current) {
    const step = <CurrentStep key={stepOf(view)} view={view} current={current} ways={ways} onRecord={onRecord} />;
    return {
      above: whyNow(view),
      title: current.step.title,
      ...(isAskedFirst(view) ? { below: <StepAsked view={view} current={current} />, then: step } : { below: step }),
    };
  }
  if (place === "fact" && question) {
    return {
      above: "Needed to know what comes next",
      title: question.ask,
      below: (
        <>
          {question.where && <p className="mt-3">{question.where}</p>}
          {question.form && <p className="mt-1 text-faint">It looks like this: {question.form}</p>}
        </>
      ),
    };
  }
  if (place === "test" && view.test) {
    return {
      above: `${view.test.steps.length > 1 ? "Tested together" : "Done"}: ${view.test.steps.join(", ")}`,
      title: "Try the original action again",
      below: <TestNow test={view.test} search={view.search} />,
    };
  }
  if (place === "finding" && view.to_find) {
    return { above: "It is not fixed. What did this step show?", title: view.to_find };
  }
  if (place === "paused" && view.pause) {
    return {
      above: view.path.find((rung) => rung.state === "now")?.title ?? view.title,
      title: WAITS_FOR[view.pause.reason],
      below: <PausedNow climbId={view.id} pause={view.pause} />,
    };
  }
  if (place === "way-out" && view.way_out) {
    return {
      above: beforeWhat(view),
      title: view.way_out.title,
      below: <LooseEndNow end={view.way_out} others={[]} />,
    };
  }
  const [end, ...others] = view.loose_ends;
  if (place === "loose-end" && end) {
    return {
      above: end.left_by ? `Before the case is closed, since you did: ${end.left_by}` : "Before the case is closed",
      title: end.title,
      below: <LooseEndNow end={end} others={others.filter((other) => other.why_left == null)} />,
    };
  }
  if (place === "sent-on") {
    return {
      above: "This ladder leads into another",
      title: "The case goes on in another playbook",
      below: (
        <>
          {view.sent_on && <LeadsInto playbook={view.sent_on} />}
          <HandOffText climbId={view.id} text={view.hand_off} />
        </>
      ),
    };
  }
  if (place === "baseline") {
    return {
      above: "Before the first step",
      title: "Is the fault there now?",
      below: <Baseline view={view} onRecord={onRecord} />,
    };
  }
  if (place === "works-now") {
    return {
      title: "It works now",
      below: (
        <p className="mt-3 max-w-prose">
          Nothing was done to it here. The case can be closed as cleared by itself, or you can go on all the same.
        </p>
      ),
    };
  }
  if (place === "confirm") {
    return {
      title: "Fixed. How is that known?",
      below: <p className="mt-3 max-w-prose">Say who has seen the original action work. This closes the case.</p>,
    };
  }
  if (place === "hand-off") {
    return {
      above: "Nothing is left to try on this ladder",
      title: "Hand the case off",
      below: <HandOffText climbId={view.id} text={view.hand_off} />,
    };
  }
  return { title: view.ended ?? "", below: <Ended view={view} /> };
}

/** The rung and its step, for as long as the case stays there. */
const stepOf = ({ path, current }: ClimbView): string =>
  `${path.find((rung) => rung.state === "now")?.path} ${current?.step.id}`;

/** What the way out is for. */
function beforeWhat(view: ClimbView): string {
  const next = view.path.find((rung) => rung.state === "now");
  return next ? `Before the next step: ${next.title}` : "Before it is tried again";
}

function whyNow({ current, rungs }: ClimbView): string {
  if (!current) return "";
  const parts = [current.label ? `Rung ${current.label} of ${rungs}` : "It is fixed. So that it does not come back"];
  if (current.only_where) parts.push(`only where ${current.only_where}`);
  if (current.note) parts.push(current.note);
  if (current.chance_here != null)
    parts.push(`ends ${Math.round(current.chance_here * 100)} % of the cases that come this far`);
  return parts.join(" · ");
}

const TestNow = ({ test, search }: { test: TrialTest; search: Search | null }) => (
  <div className="max-w-[46rem]">
    <Passages passages={test.before} />
    {test.steps.length > 1 && <p className="mt-3">All of these are done. Now, once for all of them:</p>}
    <ol className="mt-2 border-rule border-t">
      <InstructionList instructions={test.how.map((text) => ({ text }))} />
    </ol>
    {search && <SearchNow search={search} isTested />}
  </div>
);

const LooseEndNow = ({ end, others }: { end: LooseEnd; others: LooseEnd[] }) => (
  <div className="max-w-[46rem]">
    {end.do.length > 0 && (
      <ol className="mt-3 border-rule border-t">
        <InstructionList instructions={end.do} />
      </ol>
    )}
    {others.length > 0 && (
      <>
        <h2 className="mt-6 font-semibold">Then</h2>
        <ul className="mt-1 text-faint">
          {others.map((other) => (
            <li key={other.id}>{other.title}</li>
          ))}
        </ul>
      </>
    )}
  </div>
);

const Ended = ({ view }: { view: ClimbView }) => (
  <>
    {view.is_logged ? (
      <p className="mt-2">
        The case is in the log as{" "}
        <Link to={`/cases/${view.case}`} className="link">
          {view.case}
        </Link>
        .
      </p>
    ) : (
      <p className="mt-2 max-w-prose">
        The caller is on the call-back list for when it is over. The case counts there only, and says nothing about the
        steps.
      </p>
    )}
    {view.sent_on && <GoOn climbId={view.id} playbook={view.sent_on} />}
    <HandOffText
      climbId={view.id}
      text={view.hand_off}
      {...(view.end !== "handed-off" && { label: "For the ticket: what was said, tried and found" })}
    />
    <p className="mt-6 flex gap-3">
      <Link to="/start" className="button" data-tone="main">
        Start another case
      </Link>
      <Link to={`/playbooks/${view.playbook}/evidence`} className="button">
        See the evidence
      </Link>
    </p>
  </>
);
