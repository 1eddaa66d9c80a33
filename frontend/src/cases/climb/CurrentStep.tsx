import { useState } from "react";
import type { ClimbView, Move } from "../../api/types";
import { trimmed } from "../../ui/format";
import { Key } from "../../ui/Key";
import { Prose } from "../../ui/Prose";
import { useKeys } from "../../ui/useKeys";
import { useNow } from "../../ui/useNow";
import { firstAsking } from "./asking";
import { CopyButton } from "./CopyButton";
import { messageToCaller } from "./forCaller";
import { InstructionList, Passages } from "./InstructionList";
import { SearchNow } from "./SearchNow";
import { SpelledContext } from "./Spelled";
import { sourceInWords } from "./source";
import { AskedInside } from "./ValueField";
import { WORTH_PUTTING_ASIDE } from "./watch";
import { WaysContext, type WaysThatWorked } from "./ways";

interface StepProps {
  view: ClimbView;
  current: NonNullable<ClimbView["current"]>;
}

interface CurrentStepProps extends StepProps {
  onRecord: (move: Move) => void;
  ways: WaysThatWorked;
}

/** What is asked before a step is done: its guard questions, and the caller's yes. */
export const StepAsked = ({ view, current }: StepProps) => (
  <div className="max-w-[46rem]">
    {current.step.guard?.[current.guards_answered]?.inside && view.place === "guard" && (
      <Passages passages={current.before} />
    )}
    <Guards view={view} current={current} />
    <ToCaller view={view} current={current} />
  </div>
);

/** Whether the step at hand waits for an answer before anything of it is done. */
export const isAskedFirst = ({ place }: ClimbView): boolean => place === "guard" || place === "consent";

/** The step to carry out: what it will cost, instructions for this unit, and what to look out for. */
export const CurrentStep = ({ view, current, onRecord, ways }: CurrentStepProps) => {
  const { step } = current;
  const field = view.question && <AskedInside question={view.question} onRecord={onRecord} />;
  const at = view.question && firstAsking([...current.before.map((one) => one.do), current.do], view.question.id);
  const asked = at && field ? { instruction: at, field } : undefined;
  const [isSpelled, setSpelled] = useState(false);
  useKeys({ copy: copyNext, spell: () => setSpelled(!isSpelled) });
  return (
    <SpelledContext value={{ isSpelled, toggle: () => setSpelled(!isSpelled) }}>
      <div className="max-w-[46rem]">
        {!isAskedFirst(view) && <Guards view={view} current={current} />}
        {step.beware?.map((text) => (
          <p key={text} className="mt-3 border-brass border-l-4 px-4 py-1.5">
            <Prose text={text} />
          </p>
        ))}
        {step.unbroken && (
          <p className="mt-3 border-brass border-l-4 px-4 py-1.5">Once begun, this must not be interrupted.</p>
        )}
        {!isAskedFirst(view) && <ToCaller view={view} current={current} />}
        {current.to_hand.length > 0 && (
          <p className="mt-3">
            <span className="text-faint">To hand: </span>
            {current.to_hand.join(" · ")}
          </p>
        )}
        {isEntered(view) && <Passages passages={current.before} asked={asked} />}
        <ol className={`mt-3 border-rule border-t ${view.place === "step" ? "" : "text-faint"}`}>
          <WaysContext value={view.place === "step" ? ways : undefined}>
            <InstructionList instructions={current.do} asked={asked} />
          </WaysContext>
        </ol>
        {current.do.length === 0 && <p className="mt-3 text-faint">No instructions are written for this step.</p>}
        {field && !asked && field}
        {current.tried_with.length > 0 && (
          <p className="mt-3 text-dense">
            <span className="text-faint">Tried already, without success: </span>
            {current.tried_with.join(" · ")}
          </p>
        )}
        {view.search && <SearchNow search={view.search} />}
        {view.place === "step" && <Timer since={current.since} expected={current.minutes} stuck={step.stuck} />}
        {current.unattended != null && current.unattended >= WORTH_PUTTING_ASIDE && (
          <p className="mt-1 text-dense text-faint">
            It runs by itself for about {trimmed(Math.max(1, Math.round(current.unattended)))} min: the case can be put
            aside meanwhile <Key>p</Key>
          </p>
        )}
        {step.source && <p className="mt-3 text-faint text-tiny">{sourceInWords(step.source)}</p>}
        <div className="mt-4 grid grid-cols-2 gap-x-8 gap-y-3 max-md:grid-cols-1">
          <Aside title="It has worked when" text={step.expect} />
          <Aside title="Harmless" text={step.harmless?.join(" · ")} />
          <Aside title="If it is not there" text={step.missing} />
          <Aside title="Then try again" text={current.retest.join(" · ")} />
        </div>
        {view.place === "step" && current.after.length > 0 && (
          <div className="mt-4 border-rule border-l-4 px-4 text-faint">
            <p className="text-dense">Leave this state before trying again</p>
            {current.after.map((passage) => (
              <p key={passage.title}>{passage.title}</p>
            ))}
          </div>
        )}
        {view.place === "step" && !view.question && current.do.length > 0 && (
          <p className="mt-4 print:hidden">
            <CopyButton text={messageToCaller(current)} label="copy for the caller" />
          </p>
        )}
      </div>
    </SpelledContext>
  );
};

/** Whether the state of the step is being entered. */
const isEntered = ({ place }: ClimbView) => place === "begin" || place === "step";

/** Copies the first command that has not been copied yet. */
function copyNext(): void {
  const buttons = [...document.querySelectorAll<HTMLButtonElement>("[data-copy]")];
  (buttons.find((button) => !button.textContent?.startsWith("copied")) ?? buttons[0])?.click();
}

const Aside = ({ title, text }: { title: string; text: string | null | undefined }) =>
  text ? (
    <div>
      <h2 className="text-dense text-faint">{title}</h2>
      <Prose text={text} />
    </div>
  ) : null;

const Guards = ({ view, current }: StepProps) => {
  const guards = current.step.guard ?? [];
  if (guards.length === 0) return null;
  return (
    <ul className="mt-3 space-y-1">
      {guards.map((guard, number) => {
        const isAsked = view.place === "guard" && number === current.guards_answered;
        const isDone = number < current.guards_answered;
        return (
          <li
            key={guard.ask}
            aria-current={isAsked ? "step" : undefined}
            className={
              isAsked ? "border-brass border-l-4 bg-sheet px-4 py-3 font-semibold text-lead" : "px-5 text-faint"
            }
          >
            <Prose text={guard.ask} />
            {isDone && ` ${guard.must === "yes" ? "Yes." : "No."}`}
          </li>
        );
      })}
    </ul>
  );
};

/** What is read to the caller before the step; a rough one waits for their yes. */
const ToCaller = ({ view, current }: StepProps) => {
  const lacks = current.lacks ?? [];
  if (view.place === "guard" || (!current.cost && lacks.length === 0)) return null;
  const isAsked = view.place === "consent";
  return (
    <div className={`mt-3 border-l-4 px-4 py-2.5 ${isAsked ? "border-clay bg-sheet" : "border-rail"}`}>
      <p className="text-dense text-faint">
        {isAsked
          ? "Read this out and wait for a yes"
          : current.has_consent
            ? "The caller has agreed to this"
            : "Tell the caller"}
      </p>
      {current.cost && (
        <p className={isAsked ? "font-semibold text-lead" : ""}>
          “<Prose text={current.cost} />”
        </p>
      )}
      {lacks.map((lack) => (
        <p key={lack} className={`mt-1 ${isAsked ? "font-semibold text-clay" : "text-clay"}`}>
          {lack}.
        </p>
      ))}
    </div>
  );
};

interface TimerProps {
  since: string;
  expected: number;
  stuck: string | null | undefined;
}

/** A running bar against the expected time; past it, what a stuck step looks like and what to do. */
const Timer = ({ since, expected, stuck }: TimerProps) => {
  const now = useNow();
  const gone = Math.max(0, (now - new Date(since).getTime()) / 60_000);
  const isLate = gone > Math.max(expected, 0.5) * 1.5;
  return (
    <div className="mt-4 flex flex-wrap items-center gap-3">
      <span className="w-40 text-dense text-faint">
        {trimmed(Math.floor(gone))} of about {trimmed(Math.max(1, Math.round(expected)))} min
      </span>
      <span aria-hidden="true" className="h-2.5 w-48 border border-slate">
        <span
          className="block h-full bg-slate"
          style={{ width: `${Math.min(100, (100 * gone) / Math.max(expected, 0.5))}%` }}
        />
      </span>
      {stuck && (
        <span className={`text-dense ${isLate ? "font-semibold text-brass" : "text-faint"}`}>
          <Prose text={stuck} />
        </span>
      )}
    </div>
  );
};
