import { Link } from "react-router";
import type { EvidenceRow, StepEvidence } from "../api/types";
import { count, plural } from "../ui/format";
import { cameUp } from "./nested";

/** What was done under names that no step of the playbook has, most done first: it counts for no rung. */
export const OtherNames = ({ rows, playbook }: { rows: EvidenceRow[]; playbook: string }) => {
  const odd = rows.filter(({ kind }) => kind == null).toSorted((a, b) => cameUp(b.counts) - cameUp(a.counts));
  if (odd.length === 0) return null;
  const times = odd.reduce((sum, row) => sum + cameUp(row.counts), 0);
  return (
    <details className="mt-4 border-rule border-y py-2">
      <summary className="cursor-pointer">
        <span className="font-semibold">Under other names</span>{" "}
        <span className="text-faint">
          {plural(times, "attempt")} under {plural(odd.length, "name")} that no step here has, as other systems log
          them. They count for no rung.
        </span>
      </summary>
      <ul className="mt-2 columns-3 gap-8 text-dense max-lg:columns-2">
        {odd.map(({ step, counts }) => (
          <li key={step} className="flex break-inside-avoid justify-between gap-3 border-rule border-t py-1">
            <Link className="hover:underline" to={`/playbooks/${playbook}/cases?step=${encodeURIComponent(step)}`}>
              {step}
            </Link>
            <span className="text-faint whitespace-nowrap">{otherCounts(counts)}</span>
          </li>
        ))}
      </ul>
    </details>
  );
};

const otherCounts = (counts: StepEvidence) =>
  [
    plural(cameUp(counts), "time"),
    counts.tried > 0 && `${count(counts.resolved)} of ${count(counts.tried)} resolved`,
    counts.together > 0 && `${count(counts.together)} with others`,
  ]
    .filter(Boolean)
    .join(" · ");
