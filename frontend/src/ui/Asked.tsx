import { Tooltip } from "radix-ui";
import { type ReactNode, useState } from "react";

interface AskedProps {
  /** How the number was worked out, in one or two plain sentences. */
  how: string;
  children: ReactNode;
  className?: string;
}

/** A number that can be asked: pointing at it, reaching it by Tab or tapping it says how it was worked out. */
export const Asked = ({ how, children, className = "" }: AskedProps) => {
  const [isOpen, setOpen] = useState(false);
  return (
    <Tooltip.Root open={isOpen} onOpenChange={setOpen}>
      <Tooltip.Trigger asChild>
        <button
          type="button"
          className={`cursor-help text-left ${className}`}
          // A press opens what pointing opens; by itself it would close it, and a finger does not point.
          onPointerDown={(event) => event.preventDefault()}
          onClick={(event) => {
            event.preventDefault();
            event.currentTarget.focus();
            setOpen(true);
          }}
        >
          {children}
        </button>
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          collisionPadding={12}
          className="z-30 max-w-80 rounded-sm border border-rule bg-sheet px-3 py-2 text-dense text-ink shadow-md"
        >
          {how}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
};
