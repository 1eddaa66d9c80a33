import { type FormEvent, useState } from "react";
import type { Move, Question } from "../../api/types";
import { asDuration, durationIn, LENGTHS, type Length } from "../../ui/duration";
import { toHeading } from "../../ui/focus";
import { onDay } from "../../ui/format";
import { Key } from "../../ui/Key";
import { answerKey } from "../../ui/keys";
import { useKeys } from "../../ui/useKeys";

interface ValueFieldProps {
  question: Question;
  onRecord: (move: Move) => void;
}

/** A value that is asked inside a step, where it is read: typed, or one of a few, or nobody can tell. */
export const AskedInside = ({ question, onRecord }: ValueFieldProps) => {
  const give = (value: string | null) => onRecord({ kind: "fact", fact: question.id, value });
  useKeys({ "cannot-tell": () => give(null) });
  return (
    <div className="my-2 border-slate border-l-4 bg-sheet px-4 py-2.5 text-ink">
      <p className="font-semibold">{question.ask}</p>
      {(question.where || question.form) && (
        <p className="text-dense text-faint">
          {[question.where, question.form && `like ${question.form}`].filter(Boolean).join(" · ")}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <StillSo question={question} onRecord={onRecord} />
        {question.options.length > 0 ? (
          question.options.map((option, n) => (
            <button key={option} type="button" className="button" onClick={() => give(option)}>
              {option} {answerKey(String(n + 1)) && <Key>{String(n + 1)}</Key>}
            </button>
          ))
        ) : (
          <ValueField key={question.id} question={question} onRecord={onRecord} />
        )}
        <button type="button" className="button" data-tone="quiet" onClick={() => give(null)}>
          cannot tell <Key>0</Key>
        </button>
      </div>
    </div>
  );
};

/** What it was in the unit's last cases, confirmed by one key. */
export const StillSo = ({ question, onRecord }: ValueFieldProps) => {
  const before = question.known_before;
  const give = () => before && onRecord({ kind: "fact", fact: question.id, value: before.value });
  useKeys(before ? { "answer-y": give } : {});
  if (!before) return null;
  return (
    <button type="button" className="button" data-tone="main" onClick={give}>
      Still {before.value}, as on {onDay(before.closed)}{" "}
      <span data-answer-key>
        <Key>y</Key>
      </span>
    </button>
  );
};

const PLACEHOLDERS: Partial<Record<Question["type"], string>> = { number: "a number", version: "such as 4.2" };

/** A value that is typed in: a number, a version, an address, how long something takes. What the caller said it to be
 * stands there to be confirmed, or typed over. Escape lets the keys of the answers work again. */
export const ValueField = ({ question, onRecord }: ValueFieldProps) => {
  const [text, setText] = useState(question.said ?? question.known_before?.value ?? "");
  const [length, setLength] = useState<Length>("hours");
  const isDuration = question.type === "duration";
  // Told as one says it, such as 2 h or 20 min, or as a number of what is chosen beside.
  const value = isDuration ? (durationIn(text) ?? asDuration(text, length)) : text.trim() || undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (value) onRecord({ kind: "fact", fact: question.id, value });
  };
  return (
    <form className="flex flex-wrap items-center gap-2" onSubmit={submit}>
      <input
        data-asked
        aria-label={question.ask}
        className={`field ${isDuration ? "w-28" : "w-56"}`}
        maxLength={300}
        inputMode={question.type === "number" ? "decimal" : "text"}
        placeholder={question.form ?? PLACEHOLDERS[question.type] ?? ""}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") toHeading();
        }}
      />
      {isDuration && (
        <select
          aria-label="Minutes, hours or days"
          className="field w-28"
          value={length}
          onChange={(event) => setLength(event.target.value as Length)}
        >
          {LENGTHS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      )}
      <button type="submit" className="button" data-tone="main" disabled={!value}>
        Enter it <Key>↵</Key>
      </button>
    </form>
  );
};
