import { Link } from "react-router";
import type { CaseSummary } from "../../api/types";
import { minutes, moment } from "../../ui/format";

export const CASE_COLUMNS = "grid grid-cols-[6.5rem_8.5rem_minmax(0,1fr)_8rem_minmax(0,14rem)_4.5rem] gap-x-4";

interface CaseRowProps {
  row: CaseSummary;
  /** Titles of symptoms and steps by id. */
  symptoms: Map<string, string>;
  steps: Map<string, string>;
  /** Whether cases of every symptom are shown. */
  isOfAll: boolean;
  onOpen: () => void;
}

/** One case of the log: which, when, what was said, how it ended, how long it took. */
export const CaseRow = ({ row, symptoms, steps, isOfAll, onOpen }: CaseRowProps) => (
  <>
    <Link
      to={`/cases/${encodeURIComponent(row.case)}`}
      data-case={row.case}
      className="font-mono text-dense after:absolute after:inset-0"
      onClick={onOpen}
    >
      {row.case}
    </Link>
    <span className="text-dense">{row.closed && moment(row.closed)}</span>
    <span className="min-w-0">
      {isOfAll && <span className="block truncate">{symptoms.get(row.symptom) ?? row.symptom}</span>}
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
  </>
);
