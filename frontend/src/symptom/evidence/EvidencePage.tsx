import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { useParams, useSearchParams } from "react-router";
import type { EstimateView, Evidence } from "../../api/types";
import { useDraft } from "../../draft/useDraft";
import { DraftTrouble } from "../../editing/DraftTrouble";
import { atClock, count, onDay, plural } from "../../ui/format";
import { useTitle } from "../../ui/Heading";
import { Empty, LoadFailed, Loading } from "../../ui/States";
import { useStaying } from "../../ui/useStaying";
import { InHead } from "../SymptomLayout";
import { Doubts } from "./Doubts";
import { EvidenceTable } from "./EvidenceTable";
import { FilterBar } from "./FilterBar";
import { fromAddress, isEverything, type Looked, toAddress } from "./filters";
import { OtherNames } from "./OtherNames";
import { estimateQuery, evidenceQuery } from "./queries";
import { StepPanel } from "./StepPanel";
import { Underneath } from "./Underneath";

/** What the logged cases show of each step of one symptom, and what is estimated from them. */
export const EvidencePage = () => {
  const { playbookId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const looked = fromAddress(search);
  const evidence = useQuery(evidenceQuery(playbookId, looked));
  const { error, refetch } = evidence;
  // A filter that cannot be answered takes nothing away: what was shown stays, and says so.
  const data = useStaying(evidence.data, playbookId);
  const estimate = useQuery(estimateQuery(playbookId, looked, data?.cases));
  const staying = useStaying(estimate.data?.answer, playbookId);
  const view = data?.cases === 0 ? undefined : staying;
  useTitle("Evidence", data?.title);
  const look = (next: Looked) => setSearch((before) => toAddress(before, next), { replace: true });
  const choose = useCallback(
    (step: string) =>
      setSearch(
        (before) => {
          const next = new URLSearchParams(before);
          next.set("step", step);
          return next;
        },
        { replace: true },
      ),
    [setSearch],
  );
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={9} />;
  const answer = estimate.data?.answer;
  const failed = error ? evidence : estimate;
  const isBehind =
    !evidence.data ||
    evidence.isPlaceholderData ||
    answer !== view ||
    estimate.isPlaceholderData ||
    view?.is_stale === true;
  return (
    <>
      <InHead says={standing(data, view)} />
      <TakenOver playbook={playbookId} />
      {data.of === 0 ? (
        <Empty title="No case yet">
          Guide a case on this playbook, or bring some in:
          <code className="command my-2 block w-fit">mild-ladder import cases FILE.jsonl</code>
        </Empty>
      ) : (
        <>
          <FilterBar
            filters={data.filters}
            looked={looked}
            says={
              error ? "figures of the cases before" : evidence.isPlaceholderData ? "being counted" : left(data, looked)
            }
            onLook={look}
          />
          <div className="flex min-h-0 flex-1 max-[72rem]:flex-col max-[72rem]:overflow-auto">
            <div
              className="min-h-0 min-w-0 flex-1 overflow-auto px-6 pb-6 max-[72rem]:flex-none max-[72rem]:overflow-visible max-md:px-4"
              aria-busy={isBehind}
            >
              {data.recounting && (
                <p role="status" className="my-3 border-brass border-l-4 pl-3">
                  Cases are being counted again after a change to steps or questions: {count(data.recounting.done)} of{" "}
                  {count(data.recounting.of)} are done. Until then the figures mix old and new counts.
                </p>
              )}
              {estimate.data?.says && (
                <p role="status" className="my-3 border-brass border-l-4 pl-3">
                  The estimate takes longer than usual: {estimate.data.says}
                </p>
              )}
              <Doubts evidence={data} view={view} />
              {failed?.error && <LoadFailed error={failed.error} onRetry={failed.refetch} />}
              <EvidenceTable
                evidence={data}
                view={view}
                isBehind={isBehind}
                isWorking={!view && !estimate.error && data.cases > 0}
                chosen={chosenStep(data, search.get("step"))}
                onChoose={choose}
              />
              <OtherNames evidence={data} />
              <Underneath
                evidence={data}
                view={view}
                says={`${left(data, looked)}${view || data.cases === 0 ? "" : ", nothing estimated yet"}`}
              />
            </div>
            <StepPanel evidence={data} view={view} step={chosenStep(data, search.get("step"))} />
          </div>
        </>
      )}
    </>
  );
};

/** What was taken over from here and does not get into the draft. */
const TakenOver = ({ playbook }: { playbook: string }) => <DraftTrouble {...useDraft(playbook)} />;

/** The step that the address asks for, else the first that is tested. */
function chosenStep({ rows }: Evidence, asked: string | null): string | undefined {
  const known = rows.filter(({ kind }) => kind != null);
  return (known.find(({ step }) => step === asked) ?? known.find(({ counts }) => counts.tried > counts.found))?.step;
}

function standing(evidence: Evidence, view: EstimateView | undefined): string {
  const cases = plural(evidence.of, "logged case");
  const lasting = `a cure counts as held when the fault stayed away for ${plural(evidence.return_window, "day")}`;
  if (!view) return `${cases} · ${lasting}`;
  const at = new Date(view.as_of);
  const when = at.toDateString() === new Date().toDateString() ? atClock(view.as_of) : onDay(view.as_of);
  return `${cases} · ${lasting} · estimated at ${when}${view.is_stale ? ", and being updated" : ""}`;
}

/** Which cases the figures are of. */
function left(evidence: Evidence, looked: Looked): string {
  const cases = isEverything(looked)
    ? `all ${count(evidence.of)} cases`
    : `filtered to ${count(evidence.cases)} of ${count(evidence.of)} cases`;
  const isWithout = evidence.kept_out !== null && looked.source === "";
  return isWithout ? `${cases}, estimated without those brought in` : cases;
}
