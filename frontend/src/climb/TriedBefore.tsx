import type { RefObject } from "react";
import type { ClimbView, Move } from "../api/types";
import { Key } from "../ui/Key";

interface TriedBeforeProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
  field: RefObject<HTMLSelectElement | null>;
}

/** What caller or machine did before the call is entered once, and is then never asked for. */
export const TriedBefore = ({ view, onRecord, field }: TriedBeforeProps) => (
  <section>
    <label htmlFor="tried-before" className="mb-1 block font-semibold">
      Tried before the call <Key>t</Key>
    </label>
    <select
      ref={field}
      id="tried-before"
      className="field text-dense"
      value=""
      onChange={(event) => event.target.value && onRecord({ kind: "tried-before", step: event.target.value })}
    >
      <option value="">Choose what was tried in vain</option>
      {view.untried.map(({ id, title }) => (
        <option key={id} value={id}>
          {title}
        </option>
      ))}
    </select>
  </section>
);
