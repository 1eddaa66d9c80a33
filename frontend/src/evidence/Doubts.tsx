import { Link } from "react-router";
import type { EstimateView } from "../api/types";
import { plural } from "../ui/format";

interface DoubtsProps {
  view: EstimateView | undefined;
  playbook: string;
  /** Callers that were logged to what was known then. */
  calls: number;
}

/** What the log may hide, above the figures that it touches. */
export const Doubts = ({ view, playbook, calls }: DoubtsProps) => {
  const doubts = view?.doubts ?? [];
  if (doubts.length === 0 && calls === 0) return null;
  return (
    <details
      className="border-rule border-b py-2"
      open={doubts.some(({ code }) => code === "credit" || code === "gaps")}
    >
      <summary className="cursor-pointer text-dense">
        <span className="font-semibold text-brass">What the log may hide</span>{" "}
        <span className="text-faint">{plural(doubts.length + (calls > 0 ? 1 : 0), "remark")} on these figures</span>
      </summary>
      <ul className="mt-1 max-w-prose list-disc pl-5 text-dense">
        {doubts.map(({ code, says }) => (
          <li key={`${code} ${says}`}>{says}</li>
        ))}
        {calls > 0 && (
          <li>
            {plural(calls, "caller")} {calls === 1 ? "was" : "were"} logged to a notice of what was known then. They
            share one cause and stand in no figure.
          </li>
        )}
      </ul>
      <p className="mt-1 text-dense">
        <Link className="link" to={`/playbooks/${playbook}/cases`}>
          See the cases
        </Link>
      </p>
    </details>
  );
};
