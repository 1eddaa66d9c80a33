import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { DraftView, ReviewFinding } from "../../api/types";
import { Dialog } from "../../ui/Dialog";
import { minutes, plural, points } from "../../ui/format";
import { Key } from "../../ui/Key";
import { compareQuery } from "../comparison/queries";
import { Sentences } from "../comparison/Sentences";
import type { FlawAt } from "../review/ReviewStrip";

interface PublishDialogProps {
  draft: DraftView;
  review: readonly ReviewFinding[];
  /** What is no sound playbook yet, with the name of its place. */
  flaws: readonly FlawAt[];
  /** Edits that have not got through: they are published with the rest or not at all. */
  waiting: number;
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
  onPublish: (note: string) => void;
  isPublishing: boolean;
  error: Error | null;
}

/** Freeze the draft as the next edition, with a note on what changed and why. */
export const PublishDialog = ({ isOpen, onOpenChange, ...form }: PublishDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title={`Publish edition ${nextOf(form.draft)}`}
    says="From then on new cases are guided by it; cases that are open stay on their edition."
  >
    <PublishForm onOpenChange={onOpenChange} {...form} />
  </Dialog>
);

const nextOf = ({ published }: DraftView) => (published?.number ?? 0) + 1;

const PublishForm = ({
  draft,
  review,
  flaws,
  waiting,
  onOpenChange,
  onPublish,
  isPublishing,
  error,
}: Omit<PublishDialogProps, "isOpen">) => {
  const [note, setNote] = useState("");
  const next = nextOf(draft);
  const blockers = review.filter(({ level }) => level === "blocker");
  const warnings = review.filter(({ level }) => level === "warning");
  const edition = draft.published?.number;
  const changed = useQuery({
    ...compareQuery(draft.playbook.id, String(edition), "draft", draft.revision),
    enabled: edition !== undefined,
  });
  const mayPublish =
    note.trim() !== "" && !isPublishing && blockers.length === 0 && flaws.length === 0 && waiting === 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (mayPublish) onPublish(note.trim());
  };
  return (
    <>
      <p>
        {minutes(Math.round(draft.forecast.effort * 10) / 10)} of effort and {points(draft.forecast.harm)} harm points a
        case
        {draft.published &&
          `, after ${minutes(Math.round(draft.published.forecast.effort * 10) / 10)} and ${points(draft.published.forecast.harm)} in edition ${draft.published.number}`}
        .
      </p>
      {waiting > 0 && (
        <p role="status" className="mt-3 border-brass border-l-4 pl-3">
          {plural(waiting, "change")} of yours {waiting === 1 ? "is" : "are"} not saved yet; publishing waits for that.
        </p>
      )}
      {blockers.length + flaws.length > 0 && (
        <div role="alert" className="mt-3 border-clay border-l-4 pl-3">
          <p className="font-semibold">It cannot be published yet:</p>
          <ul>
            {flaws.map(({ place, says, onSymptom }) => (
              <li key={`${place} ${says}`}>
                {onSymptom ? (
                  <Link to={`../symptom#${onSymptom}`} relative="path" className="link">
                    {place}
                  </Link>
                ) : (
                  place
                )}
                : {says}.
              </li>
            ))}
            {blockers.map(({ says }) => (
              <li key={says}>{says}.</li>
            ))}
          </ul>
        </div>
      )}
      {warnings.length > 0 && (
        <div className="mt-3 border-brass border-l-4 pl-3 text-dense">
          <p className="font-semibold">Review asks about {plural(warnings.length, "thing")}:</p>
          <ul>
            {warnings.map(({ says }) => (
              <li key={says}>{says}.</li>
            ))}
          </ul>
        </div>
      )}
      {changed.data && (
        <section aria-label="What changed" className="mt-3 max-h-48 overflow-auto border-rule border-l-4 pl-3">
          <Sentences comparison={changed.data} />
        </section>
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
          <button type="submit" className="button" data-tone="main" disabled={!mayPublish}>
            Publish edition {next}
            <Key>Ctrl ↵</Key>
          </button>
        </div>
      </form>
    </>
  );
};
