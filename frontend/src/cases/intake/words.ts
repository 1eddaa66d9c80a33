/** How far a file of cases is, in words. */
import type { Job } from "../../api/types";
import { count, plural } from "../../ui/format";

/** What is being done, and how much of it. */
export function howFar(job: Job): string {
  if (job.state === "waiting") return job.done ? "goes on shortly" : "waits for its turn";
  if (job.state === "cancelling" || job.phase === "undoing")
    return `is being undone; ${plural(job.done, "case")} had been logged`;
  if (job.phase !== "logging") return "is read through first";
  return job.of === null ? `${plural(job.done, "case")} logged` : `${count(job.done)} of ${count(job.of)} lines logged`;
}
