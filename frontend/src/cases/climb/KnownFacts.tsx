import { type FormEvent, type KeyboardEvent, useState } from "react";
import type { ClimbView, Move } from "../../api/types";

type Known = ClimbView["known"][number];

interface KnownFactsProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
}

/** What was told, and what nobody could tell. */
export const knownOf = (view: ClimbView): Known[] => [...view.known, ...view.untold];

/** What is known of the case, each under what it was asked by; a slip is put right in its place, and what nobody could
 * tell is told there once somebody can. */
export const KnownFacts = ({ view, onRecord }: KnownFactsProps) => {
  const [corrected, setCorrected] = useState<string>();
  return (
    <dl className="space-y-1.5 text-dense">
      {view.unit && (
        <div>
          <dt className="text-faint">Unit</dt>
          <dd className="break-words">{view.unit}</dd>
        </div>
      )}
      {knownOf(view).map((one) => (
        <div key={one.fact}>
          <dt className="text-faint">{one.ask}</dt>
          <dd className="flex flex-wrap items-baseline gap-x-3">
            {corrected === one.fact ? (
              <Correction
                known={one}
                onDone={(value) => {
                  setCorrected(undefined);
                  if (value && value !== one.said) onRecord({ kind: "fact", fact: one.fact, value });
                }}
              />
            ) : (
              <>
                <span className="min-w-0 break-words">
                  {one.said ? one.value : <span className="text-faint italic">could not be told</span>}
                </span>
                {!one.is_confirmed && <span className="text-faint">as the caller said</span>}
                {view.place !== "ended" && (
                  <button
                    type="button"
                    className="link text-faint"
                    aria-label={`${one.said ? "Correct" : "Tell it now"}: ${one.ask}`}
                    onClick={() => setCorrected(one.fact)}
                  >
                    {one.said ? "correct" : "tell it now"}
                  </button>
                )}
              </>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
};

interface CorrectionProps {
  known: Known;
  /** With the value, or without one where it is left as it is. */
  onDone: (value?: string) => void;
}

const Correction = ({ known, onDone }: CorrectionProps) => {
  const [text, setText] = useState(known.said);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onDone(text.trim());
  };
  const leave = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopPropagation();
    onDone();
  };
  return (
    <form className="flex w-full items-center gap-2" onSubmit={submit}>
      {known.options.length > 0 ? (
        <select
          // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before
          autoFocus
          aria-label={known.ask}
          className="field min-w-0 py-0.5"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={leave}
        >
          {known.said === "" && <option value="">Choose</option>}
          {known.options.map((option) => (
            <option key={option}>{option}</option>
          ))}
        </select>
      ) : (
        <input
          // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before
          autoFocus
          aria-label={known.ask}
          className="field min-w-0 py-0.5"
          maxLength={300}
          inputMode={known.type === "number" ? "decimal" : "text"}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={leave}
        />
      )}
      <button type="submit" className="button py-0.5" disabled={!text.trim()}>
        {known.said ? "Put right" : "Enter it"}
      </button>
    </form>
  );
};
