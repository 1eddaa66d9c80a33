import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { meQuery } from "../../api/me";
import type { EstimateView, Evidence } from "../../api/types";
import { plural } from "../../ui/format";
import { useKeepOut } from "./queries";

interface DoubtsProps {
  evidence: Evidence;
  view: EstimateView | undefined;
}

/** What the log may hide, above the figures that it touches. */
export const Doubts = ({ evidence, view }: DoubtsProps) => {
  const doubts = view?.doubts ?? [];
  const { playbook, calls, kept_out: out } = evidence;
  const remarks = doubts.length + (calls > 0 ? 1 : 0) + (out === null ? 0 : 1);
  // Until the figures are with them again, the switch stays where it was pressed.
  const wereOut = view?.kept_out != null;
  if (remarks === 0 && !wereOut) return null;
  return (
    <details
      className="border-rule border-b py-2"
      open={out !== null || wereOut || doubts.some(({ code }) => code === "credit" || code === "gaps")}
    >
      <summary className="cursor-pointer text-dense">
        <span className="font-semibold text-brass">What the log may hide</span>{" "}
        <span className="text-faint">{plural(remarks, "remark")} on these figures</span>
      </summary>
      <ul className="mt-1 max-w-prose list-disc pl-5 text-dense">
        {doubts.map(({ code, says }) => (
          <li key={`${code} ${says}`}>{says}</li>
        ))}
        {out !== null && (
          <li>
            {plural(out, "case")} brought in from elsewhere {out === 1 ? "is" : "are"} kept out of all that is
            estimated, and of what drafts learn from it. What was tried, resolved and held counts{" "}
            {out === 1 ? "it" : "them"} still.
          </li>
        )}
        {calls > 0 && (
          <li>
            {plural(calls, "caller")} {calls === 1 ? "was" : "were"} logged to a notice of what was known then. They
            share one cause and stand in no figure.
          </li>
        )}
      </ul>
      <p className="mt-1 flex flex-wrap gap-x-5 text-dense">
        <Link className="link" to={`/playbooks/${playbook}/cases`}>
          See the cases
        </Link>
        {(out !== null || wereOut || doubts.some((one) => one.is_guided === false || one.code === "credit")) && (
          <BroughtIn evidence={evidence} />
        )}
      </p>
    </details>
  );
};

/** One switch, for a lead: whether cases of other systems say anything of what is estimated. */
const BroughtIn = ({ evidence: { playbook, brought_in, kept_out: out } }: { evidence: Evidence }) => {
  const isLead = useQuery(meQuery).data?.person?.role === "lead";
  const keeping = useKeepOut(playbook);
  if (!isLead || brought_in === 0) return null;
  return (
    <>
      <button type="button" className="link" onClick={() => keeping.mutate(out === null)}>
        {out === null
          ? `Keep the ${plural(brought_in, "case")} brought in out of what is estimated`
          : "Let them speak again"}
      </button>
      {keeping.error && (
        <span role="alert" className="text-clay">
          {keeping.error.message}
        </span>
      )}
    </>
  );
};
