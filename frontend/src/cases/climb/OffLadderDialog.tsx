import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { ClimbView, Move } from "../../api/types";
import { foundStepsQuery } from "../../editing/quick/queries";
import { Dialog, DialogActions } from "../../ui/Dialog";
import { useSettled } from "../../ui/useSettled";
import { type Did, moveOf, OUTCOMES, suggestions } from "./offLadder";

interface OffLadderDialogProps {
  view: ClimbView;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onRecord: (move: Move) => void;
}

const NOTHING: Did = { called: "", why: "", outcome: "no-change", isAgreed: false };

/** Something was done that no rung asks for: a step of this ladder once more, one of the library, or what it is called
 * in the agent's own words. */
export const OffLadderDialog = ({ isOpen, onOpenChange, ...form }: OffLadderDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Something else was done"
    says="It is logged as done off the ladder, and the lead sees it."
  >
    <OffLadderForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const OffLadderForm = ({ view, onOpenChange, onRecord }: Omit<OffLadderDialogProps, "isOpen">) => {
  const [did, setDid] = useState<Did>(NOTHING);
  const asked = useSettled(did.called.trim(), 250) ?? "";
  const { data } = useQuery({ ...foundStepsQuery(asked, view.playbook), enabled: asked.length > 2 });
  const offered = did.step ? [] : suggestions(view, did.called, data?.steps ?? []);
  const isRepeat =
    did.step !== undefined && view.path.some(({ step, state }) => step === did.step && state === "tried");
  const move = moveOf(did, isRepeat);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!move) return;
    onOpenChange(false);
    onRecord(move);
  };
  return (
    <form className="space-y-4" onSubmit={submit}>
      <div>
        <label htmlFor="off-called" className="label">
          What was done
        </label>
        <input
          id="off-called"
          className="field w-full"
          maxLength={120}
          autoComplete="off"
          value={did.called}
          onChange={(event) => setDid({ ...did, called: event.target.value, step: undefined })}
        />
        {offered.length > 0 && (
          <ul className="mt-1 border-rule border-t" aria-label="Steps of that name">
            {offered.map(({ id, title, from }) => (
              <li key={id} className="border-rule border-b">
                <button
                  type="button"
                  className="w-full px-2 py-1.5 text-left text-dense hover:bg-sheet"
                  onClick={() => setDid({ ...did, called: title.slice(0, 120), step: id })}
                >
                  {title} <span className="text-faint">{from}</span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </div>
      {did.step && (
        <div>
          <label htmlFor="off-why" className="label">
            {isRepeat ? "It was done already: why once more?" : "Why, if that helps the next person"}
          </label>
          <input
            id="off-why"
            className="field w-full"
            maxLength={200}
            value={did.why}
            onChange={(event) => setDid({ ...did, why: event.target.value })}
          />
          <label className="mt-2 flex items-center gap-2">
            <input
              type="checkbox"
              checked={did.isAgreed}
              onChange={(event) => setDid({ ...did, isAgreed: event.target.checked })}
            />
            The caller was told what it costs, and agreed
          </label>
        </div>
      )}
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="label">What came of it</legend>
        {OUTCOMES.map(({ outcome, says }) => (
          <label key={outcome} className="flex items-center gap-2">
            <input
              type="radio"
              name="off-outcome"
              checked={did.outcome === outcome}
              onChange={() => setDid({ ...did, outcome })}
            />
            {says}
          </label>
        ))}
      </fieldset>
      <DialogActions
        leave="Go on with the case"
        label="Log it"
        isDisabled={!move}
        onLeave={() => onOpenChange(false)}
      />
    </form>
  );
};
