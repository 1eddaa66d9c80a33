import { type FormEvent, useState } from "react";
import type { Move, Pause } from "../../api/types";
import { Dialog, DialogActions } from "../../ui/Dialog";
import { WAITS_FOR } from "./watch";

type Reason = Pause["reason"];

interface PauseDialogProps {
  isRestored: boolean;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onRecord: (move: Move) => void;
}

/** Minutes of a year. */
const LONGEST = 60 * 24 * 366;
const REASONS: Reason[] = ["call-back", "answer", "part", "quiet-hour"];

/** Let the case wait, and take it up again where it stood. */
export const PauseDialog = ({ isOpen, onOpenChange, ...form }: PauseDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Let the case wait"
    says="It waits on the Desk and continues from here."
  >
    <PauseForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const PauseForm = ({ isRestored, onOpenChange, onRecord }: Omit<PauseDialogProps, "isOpen">) => {
  const [chosen, setReason] = useState<Reason>();
  const reason = chosen ?? (isRestored ? "repair" : "call-back");
  const [until, setUntil] = useState("");
  const minutes = until ? (new Date(until).getTime() - Date.now()) / 60_000 : null;
  const isPast = minutes != null && !(minutes > 0);
  const isFar = minutes != null && minutes > LONGEST;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onOpenChange(false);
    onRecord({ kind: "pause", reason, minutes });
  };
  return (
    <form className="space-y-4" onSubmit={submit}>
      <fieldset className="space-y-1">
        <legend className="sr-only">What it waits for</legend>
        {[...(isRestored ? (["repair"] as const) : []), ...REASONS].map((one) => (
          <label key={one} className="flex items-center gap-2">
            <input type="radio" name="reason" checked={reason === one} onChange={() => setReason(one)} />
            {WAITS_FOR[one]}
          </label>
        ))}
      </fieldset>
      <div>
        <label htmlFor="until" className="label">
          Until, if that is known
        </label>
        <input
          id="until"
          type="datetime-local"
          className="field w-56"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
        {isPast && <p className="mt-1 text-dense text-clay">That has passed already.</p>}
        {isFar && <p className="mt-1 text-dense text-clay">A case waits for a year at most.</p>}
      </div>
      <DialogActions
        leave="Go on with the case"
        label="Let it wait"
        isDisabled={isPast || isFar}
        onLeave={() => onOpenChange(false)}
      />
    </form>
  );
};
