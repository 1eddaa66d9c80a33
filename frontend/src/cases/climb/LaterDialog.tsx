import type { ClimbView, Move } from "../../api/types";
import { Dialog } from "../../ui/Dialog";

interface LaterDialogProps {
  view: ClimbView;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onRecord: (move: Move) => void;
}

/** A later rung is taken now: with what must stand before it, and the ladder goes on afterwards from where it was. */
export const LaterDialog = ({ view, isOpen, onOpenChange, onRecord }: LaterDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="Take a later rung now"
    says="The steps that make it safe come with it. Afterwards the ladder continues where it was."
  >
    {view.later.length === 0 && <p className="text-faint">No later rung can be taken now.</p>}
    <ul className="max-h-[60vh] overflow-auto border-rule border-t">
      {view.later.map(({ path, label, title, brings }) => (
        <li key={path} className="border-rule border-b">
          <button
            type="button"
            className="-outline-offset-2 w-full px-2 py-2 text-left hover:bg-sheet"
            onClick={() => {
              onOpenChange(false);
              onRecord({ kind: "out-of-turn", path });
            }}
          >
            <span className="inline-block w-8 text-faint">{label}</span>
            <span className="font-semibold">{title}</span>
            {brings.length > 0 && <span className="block pl-8 text-dense text-faint">first: {brings.join(", ")}</span>}
          </button>
        </li>
      ))}
    </ul>
  </Dialog>
);
