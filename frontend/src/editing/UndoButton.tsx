interface StepBackProps {
  label: string;
  change: { label: string } | undefined;
  onClick: () => void;
}

/** Undo or redo of one's own last deed, which says beforehand what it would change. */
export const UndoButton = ({ label, change, onClick }: StepBackProps) => (
  <button
    type="button"
    className="button"
    data-tone="quiet"
    disabled={!change}
    title={change ? change.label : `Nothing of yours to ${label.toLowerCase()}`}
    onClick={onClick}
  >
    {label}
  </button>
);
