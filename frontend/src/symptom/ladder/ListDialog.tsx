import { QuickList } from "../../editing/quick/QuickList";
import type { QuickStep } from "../../editing/quick/queries";
import { Dialog } from "../../ui/Dialog";

interface ListDialogProps {
  playbook: string;
  text: string | undefined;
  onText: (text: string) => void;
  onClose: () => void;
  onTake: (lines: QuickStep[]) => void;
}

/** A pasted list, and what is understood of it, before it becomes rungs. */
export const ListDialog = ({ playbook, text, onText, onClose, onTake }: ListDialogProps) => (
  <Dialog
    isWide
    isOpen={text !== undefined}
    onOpenChange={(isOpen) => !isOpen && onClose()}
    title="A list of steps"
    says="One step a line: its title, then in any order minutes, person, kind, risks, and what it ends."
  >
    <QuickList
      label="The list"
      playbook={playbook}
      text={text ?? ""}
      onText={onText}
      take="Put them at the foot of the ladder"
      onTake={onTake}
    />
  </Dialog>
);
