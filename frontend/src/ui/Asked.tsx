import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";

interface AskedProps {
  /** How the number was worked out, in one or two plain sentences. */
  how: string;
  children: ReactNode;
  className?: string;
}

/** A number that can be asked: pointing at it, or reaching it by Tab, says how it was worked out. */
export const Asked = ({ how, children, className = "" }: AskedProps) => (
  <Tooltip.Root>
    <Tooltip.Trigger asChild>
      <button type="button" className={`cursor-help text-left ${className}`}>
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
