import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { meQuery } from "../../api/me";
import { AlertStrip } from "../../ui/AlertStrip";
import { tenths } from "../../ui/format";
import { Titled } from "../../ui/Titled";
import { useLatest } from "../../ui/useLatest";
import { type Nudge, nudgesQuery } from "./queries";

/** How the Desk's link says that it was pressed: an address alone, wherever it comes from, changes no draft. */
export const OPENED = { isOpened: true };

interface NudgeStripProps {
  playbookId: string;
  /** Of the nudge that a link leads to. */
  nudgeKey: string;
  /** It was opened on the Desk to be put into the draft. */
  isOpened: boolean;
  onTake: (revision: number, nudge: Nudge) => void;
  onLeave: () => void;
}

function useNudge(playbookId: string, key: string) {
  const { data, error } = useQuery(nudgesQuery);
  const symptom = data?.symptoms.find(({ playbook }) => playbook === playbookId);
  return { data, error, revision: symptom?.revision, nudge: symptom?.nudges.find((one) => one.key === key) };
}

/** A change that the Desk suggests: put into the draft as it is opened there, or offered where only a link led to it. */
export const NudgeStrip = ({ playbookId, nudgeKey, isOpened, onTake, onLeave }: NudgeStripProps) => {
  const { data, error, nudge, revision } = useNudge(playbookId, nudgeKey);
  const me = useQuery(meQuery).data;
  const take = useLatest(() => {
    if (nudge?.ladder && revision !== undefined) onTake(revision, nudge);
  });
  const isToTake = isOpened && me?.person != null && nudge?.ladder != null && revision !== undefined;
  useEffect(() => {
    if (isToTake) take();
  }, [isToTake, take]);
  if (isToTake || (!data && !error)) return null;
  const leave = (
    <button type="button" className="button" data-tone="quiet" onClick={onLeave}>
      Leave it
    </button>
  );
  if (!nudge?.ladder || revision === undefined)
    return <AlertStrip actions={leave}>{error?.message ?? "That is not suggested any more."}</AlertStrip>;
  return (
    <AlertStrip
      actions={
        <>
          <button type="button" className="button" data-tone="main" onClick={take}>
            Put it into the draft
          </button>
          {leave}
        </>
      }
    >
      <Suggested nudge={nudge} />
    </AlertStrip>
  );
};

interface NudgeTakenProps {
  nudge: Nudge;
  /** Absent once something else was done since: undoing would take that back. */
  onUndo: (() => void) | undefined;
  onClose: () => void;
}

/** What was just put into the draft, undone in one press. */
export const NudgeTaken = ({ nudge, onUndo, onClose }: NudgeTakenProps) => (
  <section
    aria-label="Put into the draft"
    className="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-moss border-b-2 bg-sheet px-6 py-2 max-md:px-4"
  >
    <div className="min-w-0 flex-1 basis-72">
      <p className="text-dense text-faint">In the draft now; agents follow it once it is published.</p>
      <Suggested nudge={nudge} />
    </div>
    {onUndo && (
      <button type="button" className="button" onClick={onUndo}>
        Take it back out
      </button>
    )}
    <button type="button" className="button" data-tone="quiet" onClick={onClose}>
      Close
    </button>
  </section>
);

const Suggested = ({ nudge: { says, why, people } }: { nudge: Nudge }) => (
  <>
    <p>
      <Titled text={says} />
    </p>
    <p className="text-dense text-faint">
      {why}. {tenths(people.mean / 60)} hours of people a month less ({tenths(people.low / 60)} to{" "}
      {tenths(people.high / 60)}).
    </p>
  </>
);
