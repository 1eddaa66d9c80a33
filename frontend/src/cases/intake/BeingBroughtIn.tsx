import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Job } from "../../api/types";
import { goesOn, importsQuery, useCancelImport } from "./queries";
import { howFar } from "./words";

/**
 * Files of cases that are being brought in, here or by a shell, and the last one when it failed here; nothing otherwise.
 * onEnded: one of them has ended, so the log may be another.
 */
export const BeingBroughtIn = ({ onEnded }: { onEnded: () => void }) => {
  const { data: jobs = [] } = useQuery(importsQuery);
  const under = jobs.filter(goesOn);
  useFewer(under.length, onEnded);
  const failed = jobs[0]?.state === "failed" && !jobs[0].is_outside ? jobs[0] : undefined;
  if (!under.length && !failed) return null;
  return (
    <section aria-label="Files being brought in" className="mx-6 mt-3 border-rule border-y">
      {under.map((job) => (
        <UnderWay key={job.number} job={job} />
      ))}
      {failed && (
        <p className="py-2">
          <span className="font-semibold">{failed.subject}</span>{" "}
          <span className="text-clay">could not be brought in:</span> {failed.says}
        </p>
      )}
    </section>
  );
};

const UnderWay = ({ job }: { job: Job }) => {
  const cancelling = useCancelImport();
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 py-2">
      <p className="min-w-0">
        <span className="font-semibold">{job.subject}</span>{" "}
        <span className="text-faint">
          {howFar(job)}
          {job.who && ` · ${job.who}`}
        </span>
      </p>
      {job.of !== null && job.state === "running" && (
        <div
          role="progressbar"
          aria-label={`${job.subject}: lines logged`}
          aria-valuenow={job.done}
          aria-valuemax={job.of}
          className="h-1.5 w-40 shrink-0 bg-rule max-sm:hidden"
        >
          <div className="h-full bg-slate" style={{ width: `${(100 * job.done) / Math.max(job.of, 1)}%` }} />
        </div>
      )}
      {job.state !== "cancelling" && (
        <button
          type="button"
          className="button ml-auto"
          disabled={cancelling.isPending}
          onClick={() => cancelling.mutate(job.number)}
        >
          Stop and undo
        </button>
      )}
      {cancelling.error && (
        <p role="alert" className="basis-full text-clay">
          {cancelling.error.message}
        </p>
      )}
    </div>
  );
};

/** Calls back each time that there are fewer than before. */
function useFewer(now: number, onFewer: () => void) {
  const before = useRef(now);
  useEffect(() => {
    if (now < before.current) onFewer();
    before.current = now;
  }, [now, onFewer]);
}
