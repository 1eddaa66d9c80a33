import { useQuery } from "@tanstack/react-query";
import type { CaseList, SymptomCard } from "../../api/types";
import { plural } from "../../ui/format";
import { useTyped } from "../../ui/useTyped";
import { type CaseFilter, COUNTED, isFiltered, totalQuery } from "./queries";

interface CaseFiltersProps {
  filter: CaseFilter;
  onChange: (name: keyof CaseFilter, value: string) => void;
  symptoms: SymptomCard[];
  isOfAll: boolean;
  ends: CaseList["ends"];
}

/** What narrows the log down, and how many cases are left. */
export const CaseFilters = ({ filter, onChange, symptoms, isOfAll, ends }: CaseFiltersProps) => {
  const { data: total } = useQuery(totalQuery(filter));
  const [words, setWords] = useTyped(filter.words, (text) => onChange("words", text));
  const step = symptoms.flatMap((symptom) => symptom.steps).find(({ id }) => id === filter.step);
  return (
    <search className="flex shrink-0 flex-wrap items-center gap-3 border-rule border-b px-6 py-2.5">
      <input
        aria-label="Words in what was said, units or notes"
        className="field w-64"
        placeholder="Words in what was said, units, notes"
        value={words}
        maxLength={200}
        onChange={(event) => setWords(event.target.value)}
      />
      {isOfAll && (
        <select
          aria-label="Symptom"
          className="field w-72"
          value={filter.symptom}
          onChange={(event) => onChange("symptom", event.target.value)}
        >
          <option value="">Every symptom</option>
          {symptoms.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      )}
      <select
        aria-label="End"
        className="field w-44"
        value={filter.end}
        onChange={(event) => onChange("end", event.target.value)}
      >
        <option value="">Every end</option>
        {ends.map(({ end, says }) => (
          <option key={end} value={end}>
            {says}
          </option>
        ))}
      </select>
      {filter.step && (
        <button type="button" className="button" onClick={() => onChange("step", "")}>
          <span className="font-normal">tried:</span> {step?.title ?? filter.step}{" "}
          <span className="font-normal text-faint">all steps</span>
        </button>
      )}
      <p role="status" className="ml-auto text-faint">
        {total && inWords(total.total, isFiltered(filter))}
      </p>
    </search>
  );
};

/** Counted one by one up to a bound, then about. */
const inWords = (total: number, isPart: boolean) =>
  isPart && total > COUNTED ? `about ${plural(total, "case")}` : plural(total, "case");
