import type { Pause } from "../../api/types";
import { moment } from "../../ui/format";
import { Prose } from "../../ui/Prose";
import { useNow } from "../../ui/useNow";
import { byLuck, onClock } from "./watch";

/** A case that waits: since when, until when, and what a quiet watch would prove so far. */
export const PausedNow = ({ climbId, pause }: { climbId: string; pause: Pause }) => {
  const now = useNow();
  const gone = Math.max(0, (now - new Date(pause.since).getTime()) / 60_000);
  const whole = pause.until ? (new Date(pause.until).getTime() - new Date(pause.since).getTime()) / 60_000 : null;
  const isOver = whole != null && gone >= whole;
  return (
    <div className="mt-3 max-w-prose space-y-3">
      <p>
        Since {moment(pause.since)}
        {pause.until && `, until ${moment(pause.until)}`}. {isOver && <strong>The time is over.</strong>}
      </p>
      {pause.part && <p>{pause.part}</p>}
      {pause.stuck && (
        <p className={isOver ? "font-semibold text-brass" : ""}>
          <Prose text={pause.stuck} />
        </p>
      )}
      {whole != null && (
        <p className="flex items-center gap-3">
          <span aria-hidden="true" className="h-2.5 w-64 border border-slate">
            <span className="block h-full bg-slate" style={{ width: `${Math.min(100, (100 * gone) / whole)}%` }} />
          </span>
          <span className="text-dense text-faint">
            {onClock(Math.min(gone, whole))} h of {pause.lasts}
          </span>
        </p>
      )}
      {pause.watch?.interval != null && (
        <p>
          The fault comes every {pause.watch.every}: quiet until now is mere luck in{" "}
          {byLuck(gone, pause.watch.interval)} of cases
          {!isOver && whole != null && <>, until the end in {byLuck(whole, pause.watch.interval)}</>}.
        </p>
      )}
      {pause.until && !isOver && (
        <p>
          <a className="link" href={`/api/climbs/${climbId}/follow-up.ics`} download>
            Put it into your calendar
          </a>
        </p>
      )}
      <p className="text-faint">
        {pause.reason === "runs"
          ? "See to other cases meanwhile: when the time is over, that is told on every page. It counts as this step's time. What came of it can be said below at any time."
          : "The case stands on the Desk until somebody takes it up. The time that it waits counts for no step."}
      </p>
    </div>
  );
};
