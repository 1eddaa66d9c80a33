import { AlertStrip } from "../../ui/AlertStrip";

/** Why a rung was not moved, and what can be done about it. */
export interface Refusal {
  says: string;
  /** Keys of the rungs that hold the moved one. */
  holders: string[];
  wayOn?: { label: string; go: () => void };
}

interface RefusalBarProps {
  refusal: Refusal;
  onDismiss: () => void;
}

/** Why the last change was not made, and the way on. */
export const RefusalBar = ({ refusal, onDismiss }: RefusalBarProps) => (
  <AlertStrip
    actions={
      <>
        {refusal.wayOn && (
          <button type="button" className="button" onClick={refusal.wayOn.go}>
            {refusal.wayOn.label}
          </button>
        )}
        <button type="button" className="button" data-tone="quiet" onClick={onDismiss}>
          Leave it
        </button>
      </>
    }
  >
    {refusal.says}
  </AlertStrip>
);
