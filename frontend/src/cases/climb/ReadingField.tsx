import { type FormEvent, useState } from "react";
import type { Move, Step } from "../../api/types";
import { toHeading } from "../../ui/focus";
import { Key } from "../../ui/Key";
import { readNumber } from "../../ui/number";
import { ReadAs } from "../../ui/ReadAs";
import { findingOf } from "./reading";

/** The number that was read off; it decides the finding. */
export const ReadingField = ({ step, onRecord }: { step: Step; onRecord: (move: Move) => void }) => {
  const [text, setText] = useState("");
  const reading = readNumber(text);
  const means = reading === undefined ? undefined : findingOf(step, reading);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (means !== undefined && reading !== undefined) onRecord({ kind: "answer", step: step.id, reading });
  };
  return (
    <form className="flex w-full flex-wrap items-center gap-2" onSubmit={submit}>
      <label htmlFor="reading" className="text-faint">
        It reads
      </label>
      <input
        id="reading"
        data-asked
        className="field w-24"
        inputMode="decimal"
        maxLength={12}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape") toHeading();
        }}
      />
      {step.reading?.unit}
      <ReadAs text={text} />
      {/* Room for it from the beginning: nothing moves while somebody types. */}
      <output htmlFor="reading" className="min-w-40 font-semibold">
        {means && `= ${means.title}`}
      </output>
      <button type="submit" className="button" data-tone="main" disabled={means === undefined}>
        Enter it <Key>↵</Key>
      </button>
      <span className="mx-1 text-faint">or</span>
    </form>
  );
};
