import type { ReactNode } from "react";

interface AlertStripProps {
  /** What can be done about it, at the right. */
  actions?: ReactNode;
  children: ReactNode;
}

/** What went wrong or waits, across the page below the top line, with the way on. */
export const AlertStrip = ({ actions, children }: AlertStripProps) => (
  <div
    role="alert"
    className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-brass border-b-2 bg-sheet px-6 py-2 max-md:px-4"
  >
    <div className="min-w-0 flex-1 basis-72">{children}</div>
    {actions}
  </div>
);
