import { useId, useState } from "react";
import { useKept } from "../../ui/useKept";
import { CopyButton } from "./CopyButton";

interface HandOffTextProps {
  climbId: string;
  text: string;
  /** What it is for, where that is not the next team. */
  label?: string;
}

/** What the next team, or the ticket, is told: all that is known, to be changed where one knows better, and copied. Once the case has
 * gone on, it is another text: what was changed in the old one would leave the new things out. */
export const HandOffText = (props: HandOffTextProps) => <ThisText key={props.text} {...props} />;

const ThisText = ({ climbId, text, label = "For the next team; nothing needs to be told again" }: HandOffTextProps) => {
  const id = useId();
  const [mine, setMine] = useKept(`hand-off ${climbId} ${text}`);
  // Emptied is not the same as never changed: whoever empties it means to write it anew.
  const [isEmptied, setEmptied] = useState(false);
  const shown = isEmptied ? "" : mine || text;
  return (
    <div className="mt-4 max-w-[44rem]">
      <div className="mb-1 flex items-center justify-between gap-4">
        <label htmlFor={id} className="text-faint">
          {label}
        </label>
        <span className="flex shrink-0 gap-4">
          {(isEmptied || (mine && mine !== text)) && (
            <button
              type="button"
              className="text-dense text-slate hover:underline"
              onClick={() => {
                setMine("");
                setEmptied(false);
              }}
            >
              As it was written
            </button>
          )}
          <CopyButton text={shown} label="Copy the text" />
        </span>
      </div>
      <textarea
        id={id}
        rows={4}
        className="field-sizing-content block max-h-[60vh] w-full border-rail border-l-4 bg-sheet p-4"
        value={shown}
        onChange={({ target }) => {
          setMine(target.value);
          setEmptied(target.value === "");
        }}
      />
    </div>
  );
};
