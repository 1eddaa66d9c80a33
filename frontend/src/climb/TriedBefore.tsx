import { type RefObject, useState } from "react";
import type { ClimbView, Move } from "../api/types";
import { Key } from "../ui/Key";

interface TriedBeforeProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
  field: RefObject<HTMLSelectElement | null>;
}

/** What caller or machine did before the call is entered once, and is then never asked for: a fix that did not help, a
 * safeguard, a check with what it found. */
export const TriedBefore = ({ view, onRecord, field }: TriedBeforeProps) => {
  const [checkId, setCheckId] = useState("");
  const check = view.untried.find(({ id }) => id === checkId);
  const choose = (id: string) => {
    const step = view.untried.find((one) => one.id === id);
    setCheckId(step && step.findings.length > 0 ? id : "");
    if (step?.findings.length === 0) onRecord({ kind: "tried-before", step: id });
  };
  const found = (finding: string) => {
    setCheckId("");
    if (finding) onRecord({ kind: "tried-before", step: checkId, finding });
  };
  return (
    <section>
      <label htmlFor="tried-before" className="mb-1 block font-semibold">
        Done before the call <Key>t</Key>
      </label>
      <select
        ref={field}
        id="tried-before"
        className="field text-dense"
        value={check?.id ?? ""}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">Choose what was done in vain, or seen</option>
        {view.untried.map(({ id, title }) => (
          <option key={id} value={id}>
            {title}
          </option>
        ))}
      </select>
      {check && (
        <select
          aria-label={`What it found: ${check.title}`}
          className="field mt-1 text-dense"
          value=""
          autoFocus
          onChange={(event) => found(event.target.value)}
        >
          <option value="">What did it find?</option>
          {check.findings.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      )}
    </section>
  );
};
