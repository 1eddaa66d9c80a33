import { type FormEvent, type RefObject, useState } from "react";
import type { ClimbView, Move } from "../../api/types";
import { Key } from "../../ui/Key";

interface TriedBeforeProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
  field: RefObject<HTMLSelectElement | null>;
}

/** What caller or machine did before the call is entered once, and is then never asked for: a fix that did not help, a
 * safeguard, a check with what it found. */
export const TriedBefore = ({ view, onRecord, field }: TriedBeforeProps) => {
  const [chosen, setChosen] = useState("");
  const [finding, setFinding] = useState("");
  const step = view.untried.find(({ id }) => id === chosen);
  const asksFinding = (step?.findings.length ?? 0) > 0;
  const isWhole = step !== undefined && (!asksFinding || finding !== "");
  const choose = (id: string) => {
    setChosen(id);
    setFinding("");
  };
  // Chosen first, then taken: a list acts on no arrow key and no letter that passes over it.
  const take = (event: FormEvent) => {
    event.preventDefault();
    if (!isWhole) return;
    choose("");
    onRecord({ kind: "tried-before", step: step.id, ...(asksFinding && { finding }) });
  };
  return (
    <form onSubmit={take}>
      <label htmlFor="tried-before" className="mb-1 block font-semibold">
        Done before the call <Key>t</Key>
      </label>
      <select
        ref={field}
        id="tried-before"
        className="field text-dense"
        value={step?.id ?? ""}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">Add a step already tried</option>
        {view.untried.map(({ id, title }) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </select>
      {step && asksFinding && (
        <select
          aria-label={`What it found: ${step.title}`}
          className="field mt-1 text-dense"
          value={finding}
          onChange={(event) => setFinding(event.target.value)}
        >
          <option value="">What did it find?</option>
          {step.findings.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      )}
      {step && (
        <button type="submit" className="button mt-1 py-0.5 text-dense" disabled={!isWhole}>
          Add it
        </button>
      )}
    </form>
  );
};
