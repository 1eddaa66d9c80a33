import { useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { symptomsQuery } from "../../api/lists";
import type { SymptomCard } from "../../api/types";
import { inRem, ROW_REM } from "../../ui/rem";
import { Empty, LoadFailed, Loading } from "../../ui/States";
import { useScrollPlace } from "../../ui/useScrollPlace";
import { CaseFilters } from "./CaseFilters";
import { CASE_COLUMNS, CaseRow } from "./CaseRow";
import { type CaseFilter, isFiltered } from "./queries";
import { type CaseRows, useCaseRows } from "./useCaseRows";

interface CaseLogProps {
  filter: CaseFilter;
  onChange: (name: keyof CaseFilter, value: string) => void;
  /** Whether cases of every symptom are shown, with a choice of which. */
  isOfAll: boolean;
}

/** The log: filters, then every case that fits, the last closed first. */
export const CaseLog = ({ filter, onChange, isOfAll }: CaseLogProps) => {
  const rows = useCaseRows(filter);
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  const isNarrowed = isFiltered(isOfAll ? filter : { ...filter, symptom: "" });
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <CaseFilters filter={filter} onChange={onChange} symptoms={symptoms} isOfAll={isOfAll} ends={rows.ends} />
      {rows.count ? (
        <Rows rows={rows} symptoms={symptoms} isOfAll={isOfAll} />
      ) : rows.error ? (
        <LoadFailed error={rows.error} onRetry={rows.retry} />
      ) : rows.count === 0 ? (
        <NoCases isFiltered={isNarrowed} />
      ) : (
        <Loading rows={10} />
      )}
    </div>
  );
};

interface RowsProps {
  rows: CaseRows;
  symptoms: SymptomCard[];
  isOfAll: boolean;
}

const Rows = ({ rows, symptoms, isOfAll }: RowsProps) => {
  const scroll = useRef<HTMLElement>(null);
  const place = useScrollPlace();
  const titles = new Map(symptoms.map(({ id, title }) => [id, title]));
  const steps = new Map(symptoms.flatMap((symptom) => symptom.steps).map(({ id, title }) => [id, title]));
  const row = inRem(ROW_REM);
  const virtual = useVirtualizer({
    count: rows.count ?? 0,
    estimateSize: () => row,
    getScrollElement: () => scroll.current,
    initialOffset: place.before?.offset ?? 0,
    overscan: 8,
  });
  const items = virtual.getVirtualItems();
  const [first, last] = [items[0]?.index ?? 0, items.at(-1)?.index ?? 0];
  const { see } = rows;
  useEffect(() => see(first, last), [see, first, last]);
  const opened = useRef(place.before?.opened);
  useEffect(() => {
    const link =
      opened.current && scroll.current?.querySelector<HTMLElement>(`[data-case="${CSS.escape(opened.current)}"]`);
    if (!link) return;
    link.focus({ preventScroll: true });
    opened.current = undefined;
  });
  return (
    <section
      ref={scroll}
      aria-label="Cases"
      tabIndex={0}
      className="relative min-h-0 flex-1 overflow-auto px-6"
      onScroll={(event) => place.scrolled(event.currentTarget.scrollTop)}
    >
      <div
        className={`${CASE_COLUMNS} sticky top-0 z-[1] min-w-[56rem] border-rule border-b bg-paper py-1.5 text-dense text-faint`}
      >
        <span>case</span>
        <span>closed</span>
        <span>{isOfAll ? "symptom, and what was said" : "what was said"}</span>
        <span>unit</span>
        <span>end</span>
        <span className="text-right">took</span>
      </div>
      {rows.error && (
        <div className="sticky left-0 z-[1]">
          <LoadFailed error={rows.error} onRetry={rows.retry} />
        </div>
      )}
      <ul className="relative min-w-[56rem]" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const one = rows.at(item.index);
          return (
            <li
              key={item.index}
              aria-setsize={rows.count}
              aria-posinset={item.index + 1}
              className={`${CASE_COLUMNS} absolute inset-x-0 items-center border-rule border-b hover:bg-sheet`}
              style={{ height: row, transform: `translateY(${item.start}px)` }}
            >
              {one ? (
                <CaseRow
                  row={one}
                  symptoms={titles}
                  steps={steps}
                  isOfAll={isOfAll}
                  onOpen={() => place.opened(one.case)}
                />
              ) : (
                <span className="text-faint">…</span>
              )}
            </li>
          );
        })}
      </ul>
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
