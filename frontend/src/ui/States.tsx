import { type ReactNode, useEffect, useRef } from "react";
import { isSomewhere } from "./focus";

/** Loading keeps the page's shape: ruled lines where rows will stand. */
export const Loading = ({ rows = 6 }: { rows?: number }) => (
  <div aria-busy="true" className="p-6">
    <p className="sr-only">Loading</p>
    {Array.from({ length: rows }, (_, row) => (
      <div key={row} className="h-rung border-rule border-b" />
    ))}
  </div>
);

interface LoadFailedProps {
  error: Error;
  onRetry: () => void;
  /** What is offered; else to try the same again. */
  retry?: string;
}

/** What could not be loaded, why, and the way on. */
export const LoadFailed = ({ error, onRetry, retry = "Try again" }: LoadFailedProps) => {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!isSomewhere()) button.current?.focus({ preventScroll: true });
  }, []);
  return (
    <div role="alert" className="m-6 max-w-prose border-clay border-l-4 bg-sheet p-4">
      <p className="font-semibold">This could not be shown.</p>
      <p className="mt-1">{error.message}</p>
      <button ref={button} type="button" className="button mt-3" onClick={onRetry}>
        {retry}
      </button>
    </div>
  );
};

interface EmptyProps {
  title: string;
  children: ReactNode;
}

/** An empty place says what to do. */
export const Empty = ({ title, children }: EmptyProps) => (
  <div className="m-6 max-w-prose border-rule border-l-4 pl-4">
    <p className="font-semibold text-lead">{title}</p>
    <div className="mt-1 text-faint">{children}</div>
  </div>
);
