import { type FormEvent, useState } from "react";
import type { Move, Watch } from "../../api/types";
import { readNumber, typedNumber } from "../../ui/number";
import { byLuck } from "./watch";

/** Another length for the watch than the usual one, with what it would prove. */
export const WatchField = ({ watch, onRecord }: { watch: Watch; onRecord: (move: Move) => void }) => {
  const [hours, setHours] = useState(typedNumber(watch.minutes / 60));
  const minutes = 60 * (readNumber(hours) ?? 0);
  const isLength = minutes > 0 && minutes <= 366 * 24 * 60;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (isLength) onRecord({ kind: "pause", reason: "watch", minutes });
  };
  return (
    <form className="flex w-full flex-wrap items-center gap-x-3 gap-y-1 text-dense" onSubmit={submit}>
      <label htmlFor="watch-hours" className="text-faint">
        Only normal use can tell. Watch for
      </label>
      <span className="flex items-center gap-1.5">
        <input
          id="watch-hours"
          className="field w-16 py-0.5"
          inputMode="decimal"
          maxLength={6}
          value={hours}
          onChange={(event) => setHours(event.target.value)}
        />
        hours
      </span>
      <button type="submit" className="button py-0.5" data-tone="quiet" disabled={!isLength}>
        Watch that long
      </button>
      {isLength && watch.interval != null && (
        <span className="text-faint">
          It comes every {watch.every}: quiet for that long is mere luck in {byLuck(minutes, watch.interval)} of cases.
        </span>
      )}
    </form>
  );
};
