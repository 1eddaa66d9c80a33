import { type FormEvent, useState } from "react";
import type { Move, Question } from "../api/types";
import { toHeading } from "../ui/focus";
import { Key } from "../ui/Key";
import { asDuration, LENGTHS, type Length } from "./duration";

interface ValueFieldProps {
  question: Question;
  onRecord: (move: Move) => void;
}

/** A value that is typed in: a number, a version, an address, how long something takes. What the caller said it to be
 * stands there to be confirmed, or typed over. Escape lets the keys of the answers work again. */
export const ValueField = ({ question, onRecord }: ValueFieldProps) => {
  const [text, setText] = useState(question.said ?? "");
  const [length, setLength] = useState<Length>("hours");
  const isDuration = question.type === "duration";
  const value = isDuration ? asDuration(text, length) : text.trim() || undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (value) onRecord({ kind: "fact", fact: question.id, value });
  };
  return (
    <form className="flex items-center gap-2" onSubmit={submit}>
      <input
        data-asked
        aria-label={question.ask}
        className={`field ${isDuration ? "w-20" : "w-56"}`}
        maxLength={300}
        inputMode={isDuration || question.type === "number" ? "decimal" : "text"}
        placeholder={question.form ?? (isDuration ? "" : question.type)}
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
