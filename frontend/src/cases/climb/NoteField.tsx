import type { RefObject } from "react";
import type { Move } from "../../api/types";
import { toHeading } from "../../ui/focus";
import { Key } from "../../ui/Key";
import { useKept } from "../../ui/useKept";

interface NoteFieldProps {
  climbId: string;
  onRecord: (move: Move) => void;
  field: RefObject<HTMLTextAreaElement | null>;
}

/** A note for whoever comes after; what stands in the field outlasts a reload. */
export const NoteField = ({ climbId, onRecord, field }: NoteFieldProps) => {
  const [text, setText] = useKept(`note ${climbId}`);
  const keep = () => {
    if (!text.trim()) return;
    onRecord({ kind: "note", text: text.trim() });
    setText("");
  };
  return (
    <>
      <label htmlFor="note" className="label">
        What the next person should know <Key>m</Key>
      </label>
      <textarea
        ref={field}
        id="note"
        className="field text-dense"
        rows={2}
        maxLength={4000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.shiftKey && !event.nativeEvent.isComposing) {
            event.preventDefault();
            keep();
          }
          if (event.key === "Escape") toHeading();
        }}
      />
    </>
  );
};
