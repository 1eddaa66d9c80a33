import { useId } from "react";
import type { Tree } from "../../draft/tree";
import { factIn, factInWords } from "../../editing/fields/values";
import { useTyped } from "../../ui/useTyped";
import { type LensFact, lensFacts, unitWithValue } from "./lens";

interface UnitLensProps {
  tree: Tree;
  unit: readonly string[];
  onSee: (unit: string[]) => void;
}

/** What is known of the sort of unit by which the ladder is looked at. */
export const UnitLens = ({ tree, unit, onSee }: UnitLensProps) => {
  const facts = lensFacts(tree, unit);
  return (
    <section
      aria-label="Sort of unit"
      className="flex shrink-0 flex-wrap items-end gap-x-6 gap-y-1 border-rule border-b bg-sheet px-6 py-2 max-md:px-4"
    >
      <p className="text-dense text-faint">As one sort of unit meets it:</p>
      {facts.length === 0 && <p className="text-dense">this playbook has no fact yet that tells units apart</p>}
      {facts.map((fact) => (
        <OneFact key={fact.name} fact={fact} onChange={(value) => onSee(unitWithValue(unit, fact.name, value))} />
      ))}
    </section>
  );
};

const OneFact = ({
  fact: { asks, type, values, value },
  onChange,
}: {
  fact: LensFact;
  onChange: (value: string) => void;
}) => {
  const id = useId();
  const [text, setText] = useTyped(factInWords(type, value), (typed) => onChange(factIn(type, typed)));
  return (
    <span className="min-w-0 max-w-52">
      <label htmlFor={id} className="block truncate text-faint text-tiny" title={asks}>
        {asks}
      </label>
      {values.length > 0 ? (
        <select id={id} className="line max-w-full" value={value} onChange={({ target }) => onChange(target.value)}>
          <option value="">any</option>
          {values.map((one) => (
            <option key={one} value={one}>
              {factInWords(type, one)}
            </option>
          ))}
        </select>
      ) : (
        <input
          id={id}
          type="text"
          className="line w-28"
          autoComplete="off"
          placeholder="any"
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
      )}
    </span>
  );
};
