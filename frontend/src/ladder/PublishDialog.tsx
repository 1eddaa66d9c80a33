import { type FormEvent, useState } from "react";
import type { DraftView } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { minutes, points } from "../ui/format";
import { Key } from "../ui/Key";

interface PublishDialogProps {
  draft: DraftView;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onPublish: (note: string) => void;
  isPublishing: boolean;
  error: Error | null;
}

/** Freeze the draft as the next edition, with a note on what changed and why. */
export const PublishDialog = ({ draft, isOpen, onOpenChange, onPublish, isPublishing, error }: PublishDialogProps) => {
  const [note, setNote] = useState("");
  const next = (draft.published?.number ?? 0) + 1;
  const stops = draft.broken[0]?.says;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (note.trim()) onPublish(note.trim());
  };
  return (
    <Dialog
      isOpen={isOpen}
      onOpenChange={onOpenChange}
      title={`Publish edition ${next}`}
      says="From then on new cases are guided by it; cases that are open stay on their edition."
    >
      <p>
        {minutes(Math.round(draft.forecast.effort * 10) / 10)} of effort and {points(draft.forecast.harm)} harm points a
        case
        {draft.published &&
          `, after ${minutes(Math.round(draft.published.forecast.effort * 10) / 10)} and ${points(draft.published.forecast.harm)} in edition ${draft.published.number}`}
        .
      </p>
      {stops && (
        <p role="alert" className="mt-3 border-clay border-l-4 pl-3">
          It cannot be published yet: {stops}.
        </p>
      )}
      <form onSubmit={submit} className="mt-4">
        <label htmlFor="publish-note" className="label">
          What changed, and why
        </label>
        <textarea
          id="publish-note"
          className="field"
          rows={3}
          maxLength={4000}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) submit(event);
          }}
        />
        {error && (
          <p role="alert" className="mt-2 text-clay">
            {error.message}
          </p>
        )}
        <div className="mt-4 flex justify-end gap-2">
          <button type="button" className="button" data-tone="quiet" onClick={() => onOpenChange(false)}>
            Not now
          </button>
          <button type="submit" className="button" data-tone="main" disabled={!note.trim() || isPublishing || !!stops}>
            Publish edition {next}
            <Key>Ctrl ↵</Key>
          </button>
        </div>
      </form>
    </Dialog>
  );
};
