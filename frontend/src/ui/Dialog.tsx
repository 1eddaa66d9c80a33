import { Dialog as Base } from "radix-ui";
import { type ReactNode, useRef } from "react";
import { leaveDialog } from "./focus";

interface DialogProps {
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  title: string;
  /** One sentence below the title, read out with it. */
  says: string;
  /** As wide as there is room, for what stands side by side. */
  isWide?: boolean;
  children: ReactNode;
}

/** The one dialog of the product: a sheet that floats over the page, named and described; closed, it gives the focus
 * to what came of it, or back. */
export const Dialog = ({ isOpen, onOpenChange, title, says, isWide, children }: DialogProps) => {
  const before = useRef<Element | null>(null);
  return (
    <Base.Root open={isOpen} onOpenChange={onOpenChange}>
      <Base.Portal>
        {/* A press beside the dialog closes it, or comes too soon to do so: it takes the focus nowhere. */}
        <Base.Overlay className="fixed inset-0 z-10 bg-scrim" onMouseDown={(event) => event.preventDefault()} />
        <Base.Content
          data-wide={isWide || undefined}
          className="fixed top-[7vh] left-1/2 z-20 max-h-[86vh] w-[min(34rem,calc(100vw-2rem))] data-wide:w-[min(70rem,calc(100vw-2rem))] -translate-x-1/2 overflow-auto rounded-sm border border-rule bg-sheet p-6 shadow-lg"
          onOpenAutoFocus={() => {
            before.current = document.activeElement;
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            leaveDialog(before.current);
          }}
        >
          <Base.Title className="font-bold text-title">{title}</Base.Title>
          <Base.Description className="mt-1 text-faint">{says}</Base.Description>
          <div className="mt-4">{children}</div>
        </Base.Content>
      </Base.Portal>
    </Base.Root>
  );
};

interface DialogActionsProps {
  label: string;
  /** What one goes on with without doing it. */
  leave: string;
  isDisabled: boolean;
  onLeave: () => void;
}

/** The end of a dialog's form: do it, or go on without. */
export const DialogActions = ({ label, leave, isDisabled, onLeave }: DialogActionsProps) => (
  <p className="flex gap-3">
    <button type="submit" className="button" data-tone="main" disabled={isDisabled}>
      {label}
    </button>
    <button type="button" className="button" data-tone="quiet" onClick={onLeave}>
      {leave}
    </button>
  </p>
);
