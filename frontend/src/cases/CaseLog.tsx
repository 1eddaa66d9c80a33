import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { CaseList, CaseSummary, CaseTotal, SymptomCard } from "../api/types";
import { symptomsQuery } from "../shell/queries";
import { count, minutes, moment, plural } from "../ui/format";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { type CaseFilter, casesQuery, totalQuery } from "./queries";

interface CaseLogProps {
  filter: CaseFilter;
  onChange: (name: keyof CaseFilter, value: string) => void;
  /** Whether cases of every symptom are shown, with a choice of which. */
  isOfAll: boolean;
}

const ROW = 52;
const COLUMNS = "grid grid-cols-[6.5rem_8.5rem_minmax(0,1fr)_8rem_minmax(0,14rem)_4.5rem] gap-x-4";

/** The log: filters, then every case that fits, the last closed first. */
export const CaseLog = ({ filter, onChange, isOfAll }: CaseLogProps) => {
  const { data, error, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery(casesQuery(filter));
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  const { data: total } = useQuery(totalQuery(filter));
  const cases = data?.pages.flatMap((page) => page.cases) ?? [];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Filters
        filter={filter}
        onChange={onChange}
        symptoms={symptoms}
        isOfAll={isOfAll}
        total={total}
        ends={data?.pages[0]?.ends ?? []}
      />
      {data ? (
        cases.length > 0 ? (
          <Rows
            cases={cases}
            symptoms={symptoms}
            isOfAll={isOfAll}
            onEnd={() => hasNextPage && !isFetchingNextPage && fetchNextPage()}
          />
        ) : (
          <NoCases isFiltered={!!(filter.end || filter.step || filter.words || (isOfAll && filter.symptom))} />
        )
      ) : error ? (
        <LoadFailed error={error} onRetry={refetch} />
      ) : (
        <Loading rows={10} />
      )}
    </div>
  );
};

interface FiltersProps extends CaseLogProps {
  symptoms: SymptomCard[];
  total: CaseTotal | undefined;
  ends: CaseList["ends"];
}

const Filters = ({ filter, onChange, symptoms, isOfAll, total, ends }: FiltersProps) => {
  const step = symptoms.flatMap((symptom) => symptom.steps).find(({ id }) => id === filter.step);
  return (
    <search className="flex shrink-0 flex-wrap items-center gap-3 border-rule border-b px-6 py-2.5">
      <input
        aria-label="Words in what was said, units or notes"
        className="field w-64"
        placeholder="Words in what was said, units, notes"
        value={filter.words}
        maxLength={200}
        onChange={(event) => onChange("words", event.target.value)}
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
        {total && plural(total.total, "case")}
      </p>
    </search>
  );
};

interface RowsProps {
  cases: CaseSummary[];
  symptoms: SymptomCard[];
  isOfAll: boolean;
  onEnd: () => void;
}

const Rows = ({ cases, symptoms, isOfAll, onEnd }: RowsProps) => {
  const scroll = useRef<HTMLElement>(null);
  const titles = new Map(symptoms.map(({ id, title }) => [id, title]));
  const steps = new Map(symptoms.flatMap((symptom) => symptom.steps).map(({ id, title }) => [id, title]));
  const virtual = useVirtualizer({
    count: cases.length,
    estimateSize: () => ROW,
    getScrollElement: () => scroll.current,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (last >= cases.length - 1) onEnd();
  }, [last, cases.length, onEnd]);
  return (
    <section ref={scroll} aria-label="Cases" tabIndex={0} className="min-h-0 flex-1 overflow-auto px-6">
      <div
        className={`${COLUMNS} sticky top-0 z-[1] min-w-[56rem] border-rule border-b bg-paper py-1.5 text-dense text-faint`}
      >
        <span>case</span>
        <span>closed</span>
        <span>{isOfAll ? "symptom, and what was said" : "what was said"}</span>
        <span>unit</span>
        <span>end</span>
        <span className="text-right">took</span>
      </div>
      <ul className="relative min-w-[56rem]" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = cases[item.index];
          return (
            row && (
              <li
                key={row.case}
                className={`${COLUMNS} absolute inset-x-0 items-center border-rule border-b hover:bg-sheet`}
                style={{ height: ROW, transform: `translateY(${item.start}px)` }}
              >
                <Link
                  to={`/cases/${encodeURIComponent(row.case)}`}
                  className="font-mono text-dense after:absolute after:inset-0"
                >
                  {row.case}
                </Link>
                <span className="text-dense">{row.closed && moment(row.closed)}</span>
                <span className="min-w-0">
                  {isOfAll && <span className="block truncate">{titles.get(row.symptom) ?? row.symptom}</span>}
                  <span className={`block truncate ${isOfAll ? "text-dense text-faint" : ""}`}>
                    {row.said ? `“${row.said}”` : row.is_readable && "nothing noted"}
                  </span>
                </span>
                <span className="min-w-0 text-dense">
                  <span className="block truncate">{row.unit}</span>
                  <span className="block truncate text-faint">{row.site}</span>
                </span>
                <span className="min-w-0 text-dense">
                  <span className={`block ${row.end === "resolved" ? "text-moss" : ""}`}>
                    {row.ended}
                    {row.came_back && <span className="text-clay"> · came back</span>}
                  </span>
                  <span className="block truncate text-faint">
                    {row.resolved_by && (steps.get(row.resolved_by) ?? row.resolved_by)}
                  </span>
                </span>
                <span className="text-right text-dense">{row.is_readable && minutes(Math.round(row.minutes))}</span>
              </li>
            )
          );
        })}
      </ul>
      <p className="sr-only">{count(cases.length)} shown</p>
    </section>
  );
};

const NoCases = ({ isFiltered }: { isFiltered: boolean }) =>
  isFiltered ? (
    <Empty title="No case fits">Take a filter away, or use other words.</Empty>
  ) : (
    <Empty title="No case yet">
      <Link to="/start" className="link">
        Start a case
      </Link>{" "}
      when a caller is on the line, or bring some in:
      <code className="command my-2 block w-fit">mild-ladder import cases FILE.jsonl</code>
    </Empty>
  );
