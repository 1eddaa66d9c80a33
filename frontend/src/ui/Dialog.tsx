import { Dialog as Base } from "radix-ui";
import type { ReactNode } from "react";

interface DialogProps {
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  title: string;
  /** One sentence below the title, read out with it. */
  says: string;
  children: ReactNode;
}

/** The one dialog of the product: a sheet that floats over the page, named and described. */
export const Dialog = ({ isOpen, onOpenChange, title, says, children }: DialogProps) => (
  <Base.Root open={isOpen} onOpenChange={onOpenChange}>
    <Base.Portal>
      <Base.Overlay className="fixed inset-0 z-10 bg-scrim" />
      <Base.Content className="fixed top-[7vh] left-1/2 z-20 max-h-[86vh] w-[min(34rem,calc(100vw-2rem))] -translate-x-1/2 overflow-auto rounded-sm border border-rule bg-sheet p-6 shadow-lg">
        <Base.Title className="text-title font-bold">{title}</Base.Title>
        <Base.Description className="mt-1 text-faint">{says}</Base.Description>
        <div className="mt-4">{children}</div>
      </Base.Content>
    </Base.Portal>
  </Base.Root>
);
