import { useId } from "react";
import type { EvidenceFilters } from "../../api/types";
import { inMonth } from "../../ui/format";
import { EVERYTHING, filterValue, isEverything, type Looked, withFact } from "./filters";

interface FilterBarProps {
  filters: EvidenceFilters;
  looked: Looked;
  says: string;
  onLook: (looked: Looked) => void;
}

/** Which cases are looked at: by month, edition, site, where they were logged, and every fact of their units. */
export const FilterBar = ({ filters, looked, says, onLook }: FilterBarProps) => {
  const months = filters.months.map((month) => ({ value: month, label: inMonth(month) }));
  const choose = (part: Partial<Looked>) => onLook({ ...looked, ...part });
  return (
    <section
      aria-label="Which cases"
      className="flex shrink-0 flex-wrap items-end gap-x-4 gap-y-1 border-rule border-b px-6 py-2 max-md:px-4"
    >
      <Choice label="from" value={looked.since} choices={months} onChoose={(since) => choose({ since })} />
      <Choice label="to" value={looked.until} choices={months} onChoose={(until) => choose({ until })} />
      {filters.editions.length > 0 && (
        <Choice
          label="edition"
          value={looked.edition}
          choices={filters.editions.map((number) => ({ value: String(number), label: `edition ${number}` }))}
          onChoose={(edition) => choose({ edition })}
        />
      )}
      {filters.sites.length > 1 && (
        <Choice
          label="site"
          value={looked.site}
          choices={filters.sites.map(same)}
          onChoose={(site) => choose({ site })}
        />
      )}
      <Choice
        label="logged"
        value={looked.source}
        choices={[
          { value: "guided", label: "guided here" },
          { value: "brought-in", label: "brought in" },
        ]}
        onChoose={(source) => choose({ source: source as Looked["source"] })}
      />
      {filters.facts.map(({ fact, ask, values }) => (
        <Choice
          key={fact}
          label={ask}
          value={filterValue(looked, fact)}
          choices={values.map(same)}
          onChoose={(value) => onLook(withFact(looked, fact, value))}
        />
      ))}
      <p className="ml-auto self-end pb-1 text-dense text-faint">
        {says}
        {!isEverything(looked) && (
          <button type="button" className="link ml-3" onClick={() => onLook(EVERYTHING)}>
            Show all
          </button>
        )}
      </p>
    </section>
  );
};

const same = (value: string) => ({ value, label: value });

interface ChoiceProps {
  label: string;
  value: string;
  choices: { value: string; label: string }[];
  onChoose: (value: string) => void;
}

const Choice = ({ label, value, choices, onChoose }: ChoiceProps) => {
  const id = useId();
  return (
    <span className="min-w-0 max-w-40">
      <label htmlFor={id} className="block truncate text-faint text-tiny" title={label}>
        {label}
      </label>
      <select
        id={id}
        className={`line max-w-full ${value ? "font-semibold" : ""}`}
        value={value}
        onChange={({ target }) => onChoose(target.value)}
      >
        <option value="">any</option>
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value}>
            {choice.label}
          </option>
        ))}
      </select>
    </span>
  );
};
