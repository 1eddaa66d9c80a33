import { Popover } from "radix-ui";
import type { ReactNode } from "react";

export interface MeaningOfMark {
  /** The mark as it is drawn, in a box of 40 by 20. */
  mark: ReactNode;
  means: string;
}

interface MarksKeyProps {
  /** What is drawn. */
  of: string;
  marks: readonly MeaningOfMark[];
}

/** What the marks of a drawing mean, asked where it is drawn: by its button, or by `?` on it. */
export const MarksKey = ({ of, marks }: MarksKeyProps) => (
  <Popover.Root>
    <Popover.Trigger asChild>
      <button
        type="button"
        className="link text-dense text-faint print:hidden"
        onKeyDown={(event) => {
          if (event.key !== "?") return;
          event.preventDefault();
          event.stopPropagation();
          event.currentTarget.click();
        }}
      >
        what the marks mean<span className="sr-only">, {of}</span>
      </button>
    </Popover.Trigger>
    <Popover.Portal>
      <Popover.Content
        sideOffset={6}
        collisionPadding={12}
        aria-label={`What the marks mean, ${of}`}
        className="z-30 max-h-[70vh] max-w-96 overflow-auto rounded-sm border border-rule bg-sheet px-4 py-3 text-dense text-ink shadow-md"
      >
        <ul className="space-y-1.5">
          {marks.map(({ mark, means }) => (
            <li key={means} className="grid grid-cols-[2.75rem_minmax(0,1fr)] items-center gap-2">
              <svg aria-hidden="true" width={40} height={20}>
                {mark}
              </svg>
              <span>{means}</span>
            </li>
          ))}
        </ul>
      </Popover.Content>
    </Popover.Portal>
  </Popover.Root>
);
