import { useState } from "react";
import type { ClimbView, Move } from "../../api/types";
import { Dialog } from "../../ui/Dialog";
import { HandOffText } from "./HandOffText";

interface EndDialogProps {
  view: ClimbView;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onRecord: (move: Move) => void;
}

type Ending = Extract<Move, { kind: "end" }>;

/** End a case before its ladder does: hand it off, or close it because the caller has gone or the fault has. */
export const EndDialog = ({ isOpen, onOpenChange, ...form }: EndDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Hand off or close"
    says="The case leaves this ladder now. What was tried is kept. This cannot be taken back."
  >
    <EndForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const EndForm = ({ view, onOpenChange, onRecord }: Omit<EndDialogProps, "isOpen">) => {
  const [why, setWhy] = useState("");
  const open = view.loose_ends.filter((end) => end.why_left == null);
  const mayEnd = open.length === 0 || why.trim() !== "";
  const end = (move: Ending) => {
    onOpenChange(false);
    onRecord(open.length > 0 ? { ...move, why_left: why.trim() } : move);
  };
  const teams = view.teams.length > 0 ? view.teams : [{ id: null, title: "somebody else" }];
  return (
    <>
      <HandOffText climbId={view.id} text={view.hand_off} />
      {open.length > 0 && (
        <section className="mt-4 border-brass border-l-4 px-4">
          <h3 className="font-semibold">Loose ends are still open</h3>
          <ul className="text-dense">
            {open.map(({ id, title }) => (
              <li key={id}>{title}</li>
            ))}
          </ul>
          <label htmlFor="why-left" className="label mt-2">
            Why they stay open
          </label>
          <input
            id="why-left"
            className="field w-full"
            maxLength={200}
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
        </section>
      )}
      <div className="mt-4 flex flex-wrap gap-2">
        {teams.map((team, number) => (
          <button
            key={team.title}
            type="button"
            className="button"
            data-tone={number === 0 ? "main" : "plain"}
            disabled={!mayEnd}
            onClick={() => end({ kind: "end", end: "handed-off", hand_off: team.id })}
          >
            Hand off to {team.title}
          </button>
        ))}
      </div>
      <div className="mt-4 flex flex-wrap gap-2 border-rule border-t pt-3">
        <button
          type="button"
          className="button"
          data-tone="quiet"
          disabled={!mayEnd}
          onClick={() => end({ kind: "end", end: "self-cleared", confirmed: "caller" })}
        >
          It cleared by itself
        </button>
        <button
          type="button"
          className="button"
          data-tone="quiet"
          disabled={!mayEnd}
          onClick={() => end({ kind: "end", end: "abandoned" })}
        >
          The caller has gone
        </button>
        <button type="button" className="button ml-auto" data-tone="quiet" onClick={() => onOpenChange(false)}>
          Go on with the case
        </button>
      </div>
    </>
  );
};
