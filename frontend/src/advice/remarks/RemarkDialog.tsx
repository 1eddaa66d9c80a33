import { type FormEvent, useState } from "react";
import { Dialog, DialogActions } from "../../ui/Dialog";
import { say } from "../../ui/say";
import { useRemark } from "./queries";

interface RemarkDialogProps {
  /** What the remark is about: the step, and its texts as they are shown. */
  about: { playbook: string; edition: number; step: string; title: string; texts: readonly string[] };
  isOpen: boolean;
  onOpenChange: (isOpen: boolean) => void;
}

/** A text is wrong: the lead is told, with the text and edition, and the case goes on untouched. */
export const RemarkDialog = ({ isOpen, about, onOpenChange }: RemarkDialogProps) => (
  <Dialog
    isOpen={isOpen}
    onOpenChange={onOpenChange}
    title="This text is wrong"
    says={`The lead is told about “${about.title}” in edition ${about.edition}. The case continues as it is.`}
  >
    <RemarkForm about={about} onOpenChange={onOpenChange} />
  </Dialog>
);

const RemarkForm = ({ about, onOpenChange }: Omit<RemarkDialogProps, "isOpen">) => {
  const [text, setText] = useState("");
  const [says, setSays] = useState("");
  const [key] = useState(() => crypto.randomUUID());
  const remark = useRemark();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { playbook, edition, step } = about;
    remark.mutate(
      { key, playbook, edition, step, text, says: says.trim() },
      {
        onSuccess: () => {
          onOpenChange(false);
          say("The lead is told");
        },
      },
    );
  };
  return (
    <form className="space-y-4" onSubmit={submit}>
      {about.texts.length > 0 && (
        <div>
          <label htmlFor="remark-text" className="label">
            Which text
          </label>
          <select
            id="remark-text"
            className="field w-full"
            value={text}
            onChange={(event) => setText(event.target.value)}
          >
            <option value="">The step as a whole</option>
            {about.texts.map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </select>
        </div>
      )}
      <div>
        <label htmlFor="remark-says" className="label">
          What is wrong with it
        </label>
        <textarea
          id="remark-says"
          className="field w-full"
          rows={2}
          maxLength={1000}
          value={says}
          onChange={(event) => setSays(event.target.value)}
        />
      </div>
      {remark.error && (
        <p role="alert" className="text-clay">
          {remark.error.message}
        </p>
      )}
      <DialogActions
        leave="Not now"
        label="Tell the lead"
        isDisabled={!says.trim() || remark.isPending}
        onLeave={() => onOpenChange(false)}
      />
    </form>
  );
};
