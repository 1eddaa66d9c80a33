import { type ReactNode, useState } from "react";

interface SectionProps {
  title: string;
  /** In short, what it says: beside the title. */
  says?: ReactNode;
  /** Whether it says something; else it stays folded until somebody opens it. */
  isSaying: boolean;
  /** What is missing in it. */
  missing?: string | undefined;
  children: ReactNode;
}

/** Sections that somebody opened, by title: they stay open on the next rung. */
const openedByHand = new Set<string>();

/** One part of an editor, folded where it says nothing. */
export const Section = ({ title, says, isSaying, missing, children }: SectionProps) => {
  const [isOpen, setOpen] = useState<boolean | undefined>(() => openedByHand.has(title) || undefined);
  const open = isOpen ?? isSaying;
  const toggle = (isNowOpen: boolean) => {
    setOpen(isNowOpen);
    if (isNowOpen) openedByHand.add(title);
    else openedByHand.delete(title);
  };
  return (
    <details
      aria-label={title}
      className="mt-3 border-rule border-t pt-2"
      open={open}
      onToggle={({ currentTarget }) => {
        if (currentTarget.open !== open) toggle(currentTarget.open);
      }}
    >
      <summary className="flex cursor-pointer items-baseline gap-2">
        <h3 className="font-semibold">{title}</h3>
        {missing && (
          <span className="text-brass text-tiny" title={missing}>
            ! <span className="sr-only">{missing}</span>
          </span>
        )}
        <span className="ml-auto text-dense text-faint">{says}</span>
      </summary>
      <div className="mt-1">{open && children}</div>
    </details>
  );
};

interface FoldedProps {
  says: string;
  isOpen: boolean;
  children: ReactNode;
}

/** What most leave empty: one quiet line until it says something, or somebody opens it. */
export const Folded = ({ says, isOpen, children }: FoldedProps) => {
  const [wasOpened, setOpened] = useState(isOpen);
  return (
    <details
      aria-label={says}
      className="text-dense"
      open={isOpen}
      onToggle={({ currentTarget }) => currentTarget.open && setOpened(true)}
    >
      {/* What it holds is there before the next key: the toggle is told of later. */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a summary is pressed by key and pointer by itself */}
      <summary className="cursor-pointer text-faint text-tiny hover:text-ink" onClick={() => setOpened(true)}>
        {says}
      </summary>
      <div className="space-y-1 border-rule border-l pl-2">{(isOpen || wasOpened) && children}</div>
    </details>
  );
};
