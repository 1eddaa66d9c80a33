import { type MouseEvent, useState } from "react";
import type { Answer, ClimbView, HazardKind, Move } from "../../api/types";
import { Key } from "../../ui/Key";
import { answerKey, harmKey } from "../../ui/keys";
import { refuseHeld } from "../../ui/refuseHeld";
import { type Acts, isInHaste, useIsResting, useKeys } from "../../ui/useKeys";
import { HarmQuestions } from "./HarmQuestions";
import { type PutRight, withHarm } from "./harm";
import { ReadingField } from "./ReadingField";
import { StillSo, ValueField } from "./ValueField";
import { WatchField } from "./WatchField";
import { waysIn, withWays } from "./ways";

interface AnswerBarProps {
  view: ClimbView;
  harms: HazardKind[];
  onToggleHarm: (kind: HazardKind) => void;
  putRight: PutRight | undefined;
  onPutRight: (how: PutRight) => void;
  /** Words of the ways that worked, of what can be done in several. */
  ways: readonly string[];
  isSending: boolean;
  onRecord: (move: Move) => void;
}

const RARE_WORDS: Partial<Record<ClimbView["place"], string>> = {
  "loose-end": "it stays open",
  "way-out": "it cannot be done now",
  paused: "other",
};

/** Every answer that fits now, always in one place: number keys first, the rarer ones behind one key. */
export const AnswerBar = ({
  view,
  harms,
  onToggleHarm,
  putRight,
  onPutRight,
  ways,
  isSending,
  onRecord,
}: AnswerBarProps) => {
  const [isRareShown, setRareShown] = useState(false);
  const isResting = useIsResting();
  const asked = view.harms;
  const worked = view.place === "step" ? waysIn(view.current?.do ?? []).filter((words) => ways.includes(words)) : [];
  const onAnswer = (move: Move, isDone = true) =>
    onRecord(withWays(withHarm(move, isDone ? asked : [], harms, putRight), isDone, worked));
  // While a value is missing that the step waits for, nothing is said of the step but that it is not done: digits
  // choose among the value's answers.
  const missing = view.place === "step" ? view.question : undefined;
  const rare = view.answers.filter((answer) => answer.is_rare);
  const usual = missing ? [] : view.answers.filter((answer) => !answer.is_rare);
  const shown = isRareShown ? rare : usual;
  const acts: Acts = {};
  for (const [n, value] of (isRareShown ? [] : (missing?.options ?? [])).entries()) {
    const name = answerKey(String(n + 1));
    if (name && missing) acts[name] = () => onRecord({ kind: "fact", fact: missing.id, value });
  }
  for (const answer of shown) {
    const name = answerKey(answer.key);
    if (name) acts[name] = () => onAnswer(answer.move, answer.is_carried_out);
  }
  if (rare.length > 0) acts.rarer = () => setRareShown(!isRareShown);
  const takesUp = view.answers.find(({ move }) => move.kind === "resume");
  if (takesUp) acts["take-up"] = () => onAnswer(takesUp.move, false);
  for (const { kind } of asked) {
    const name = harmKey(kind);
    if (name) acts[name] = () => onToggleHarm(kind);
  }
  if (view.can_take_back) acts["take-back"] = () => onRecord({ kind: "take-back" });
  useKeys(acts);
  return (
    <section
      aria-label="Answers"
      aria-busy={isSending || isResting}
      onKeyDown={refuseHeld}
      onClickCapture={refuseHaste}
      className="row-start-2 flex shrink-0 flex-wrap items-center gap-2 border-rule border-y bg-sheet px-10 py-4 max-md:sticky max-md:bottom-0 max-md:order-last max-md:max-h-[34dvh] max-md:overflow-y-auto max-md:px-5 max-md:py-2 print:hidden"
    >
      {asked.length > 0 && !missing && (
        <HarmQuestions asked={asked} seen={harms} onToggle={onToggleHarm} putRight={putRight} onPutRight={onPutRight} />
      )}
      {view.place === "fact" && view.question && <StillSo question={view.question} onRecord={onRecord} />}
      {view.place === "fact" && view.question && !["choice", "yes-no"].includes(view.question.type) && (
        <ValueField key={view.question.id} question={view.question} onRecord={onRecord} />
      )}
      {missing && !isRareShown && <p className="text-faint">First: {missing.ask}</p>}
      {view.watch && !missing && <WatchField watch={view.watch} onRecord={onRecord} />}
      {view.place === "step" && !missing && view.current?.step.reading && (
        <ReadingField step={view.current.step} onRecord={onAnswer} />
      )}
      {shown.map((answer) => (
        <AnswerButton key={answer.label} answer={answer} onPress={() => onAnswer(answer.move, answer.is_carried_out)} />
      ))}
      {rare.length > 0 && (
        <button
          type="button"
          className="button"
          data-tone="quiet"
          aria-expanded={isRareShown}
          onClick={() => setRareShown(!isRareShown)}
        >
          {isRareShown ? "the usual answers" : (RARE_WORDS[view.place] ?? "could not · not there · other")}{" "}
          <AnswerKey>9</AnswerKey>
        </button>
      )}
      {view.can_take_back && (
        <button
          type="button"
          className="button ml-auto"
          data-tone="quiet"
          onClick={() => onRecord({ kind: "take-back" })}
        >
          take back <AnswerKey>u</AnswerKey>
        </button>
      )}
    </section>
  );
};

/** A second press in haste, meant for the question before, answers nothing. */
const refuseHaste = (event: MouseEvent) => {
  const button = event.target instanceof Element ? event.target.closest("button") : null;
  if (
    button &&
    !button.hasAttribute("aria-pressed") &&
    !button.hasAttribute("aria-expanded") &&
    isInHaste(event.timeStamp)
  ) {
    event.preventDefault();
    event.stopPropagation();
  }
};

const AnswerButton = ({ answer, onPress }: { answer: Answer; onPress: () => void }) => (
  <button type="button" className="button" data-tone={answer.tone} onClick={onPress}>
    {answer.label} {answer.key && <AnswerKey>{answer.key}</AnswerKey>}
  </button>
);

/** Not shown while a field has the keys: pressed there, it would be typed. */
const AnswerKey = ({ children }: { children: string }) => (
  <span data-answer-key>
    <Key>{children}</Key>
  </span>
);
