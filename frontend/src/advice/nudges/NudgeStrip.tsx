import { useQuery } from "@tanstack/react-query";
import { AlertStrip } from "../../ui/AlertStrip";
import { tenths } from "../../ui/format";
import { Titled } from "../../ui/Titled";
import { type Nudge, nudgesQuery } from "./queries";

interface NudgeStripProps {
  playbookId: string;
  /** Of the nudge that a link leads to. */
  nudgeKey: string;
  onTake: (revision: number, nudge: Nudge) => void;
  onLeave: () => void;
}

function useNudge(playbookId: string, key: string) {
  const { data, error } = useQuery(nudgesQuery);
  const symptom = data?.symptoms.find(({ playbook }) => playbook === playbookId);
  return { data, error, revision: symptom?.revision, nudge: symptom?.nudges.find((one) => one.key === key) };
}

/** A change that the Desk suggests, about to be put into the draft: one group of edits, undone in one press. */
export const NudgeStrip = ({ playbookId, nudgeKey, onTake, onLeave }: NudgeStripProps) => {
  const { data, error, nudge, revision } = useNudge(playbookId, nudgeKey);
  if (!data && !error) return null;
  const leave = (
    <button type="button" className="button" data-tone="quiet" onClick={onLeave}>
      Leave it
    </button>
  );
  if (!nudge?.ladder || revision === undefined)
    return <AlertStrip actions={leave}>{error?.message ?? "That is not suggested any more."}</AlertStrip>;
  const { people } = nudge;
  return (
    <AlertStrip
      actions={
        <>
          <button type="button" className="button" data-tone="main" onClick={() => onTake(revision, nudge)}>
            Put it into the draft
          </button>
          {leave}
        </>
      }
    >
      <p>
        <Titled text={nudge.says} />
      </p>
      <p className="text-dense text-faint">
        {nudge.why}. {tenths(people.mean / 60)} hours of people a month less ({tenths(people.low / 60)} to{" "}
        {tenths(people.high / 60)}).
      </p>
    </AlertStrip>
  );
};
