import type { Refusal } from "./useDraft";

interface RefusalBarProps {
  refusal: Refusal;
  onDismiss: () => void;
}

/** Why the last change was not made, and the way on. */
export const RefusalBar = ({ refusal, onDismiss }: RefusalBarProps) => (
  <div role="alert" className="flex shrink-0 items-center gap-3 border-brass border-b-2 bg-sheet px-6 py-2">
    <p className="flex-1">{refusal.says}</p>
    {refusal.wayOn && (
      <button type="button" className="button" onClick={refusal.wayOn.go}>
        {refusal.wayOn.label}
      </button>
    )}
    <button type="button" className="button" data-tone="quiet" onClick={onDismiss}>
      Leave it
    </button>
  </div>
);
