import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type RefObject, useId, useState } from "react";
import { ROOT } from "../draft/tree";
import { titleIn } from "../fields/Chosen";
import { useEditing } from "../fields/Editing";
import { pastedLines } from "../fields/pasted";
import { Key } from "../ui/Key";
import { useKept } from "../ui/useKept";
import { useSettled } from "../ui/useSettled";
import { quickQuery } from "./queries";
import { Said } from "./Said";

export type Taken = { text: string } | { step: string };

interface QuickLineProps {
  label: string;
  placeholder: string;
  input: RefObject<HTMLInputElement | null>;
  onTake: (taken: Taken) => void;
  onList: (text: string) => void;
  /** It is let be: with the key or by going elsewhere while it is empty. */
  onLeave: () => void;
}

const SHOWN = 3;

/** One line in quick words: what is understood stands below it before Enter takes it. */
export const QuickLine = ({ label, placeholder, input, onTake, onList, onLeave }: QuickLineProps) => {
  const { tree, playbookId } = useEditing();
  const [text, setText] = useKept(`line ${playbookId} ${label}`);
  const [chosen, setChosen] = useState(-1);
  const settled = useSettled(text.trim(), 120);
  const { data } = useQuery({ ...quickQuery(settled ?? "", playbookId), enabled: !!settled });
  const quick = text.trim() ? data?.lines[0] : undefined;
  const id = useId();
  const begun = text.trim().toLowerCase();
  const alike =
    begun.length < 3
      ? []
      : tree
          .shown(ROOT, ["steps"])
          .filter((one) => titleIn(one).toLowerCase().includes(begun))
          .slice(0, SHOWN);
  const take = () => {
    const there = alike[chosen];
    if (!there && !text.trim()) return onLeave();
    onTake(there ? { step: there.key } : { text: text.trim() });
    setText("");
    setChosen(-1);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter") {
      event.preventDefault();
      take();
    } else if (event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      setText("");
      onLeave();
    } else if ((event.key === "ArrowDown" || event.key === "ArrowUp") && !event.altKey && alike.length > 0) {
      event.preventDefault();
      const by = event.key === "ArrowDown" ? 1 : -1;
      setChosen(((chosen + 1 + by + alike.length + 1) % (alike.length + 1)) - 1);
    }
  };
  return (
    <div>
      <input
        ref={input}
        type="text"
        className="field"
        autoComplete="off"
        aria-label={label}
        aria-describedby={`${id}-said`}
        placeholder={placeholder}
        value={text}
        onChange={({ target }) => {
          setText(target.value);
          setChosen(-1);
        }}
        onPaste={(event) => {
          const pasted = event.clipboardData.getData("text/plain");
          if (pastedLines(pasted).length < 2) return;
          event.preventDefault();
          onList(pasted);
        }}
        onBlur={() => !text && onLeave()}
        onKeyDown={onKeyDown}
      />
      <div id={`${id}-said`} aria-live="polite" className="flex items-baseline gap-3">
        <div className="min-w-0 flex-1">
          {quick && chosen < 0 && <Said quick={quick} />}
          {alike.length > 0 && (
            <p className="text-faint text-tiny">
              here already:{" "}
              {alike.map((one, number) => (
                <span key={one.key}>
                  {number > 0 && " · "}
                  <button
                    type="button"
                    tabIndex={-1}
                    aria-current={number === chosen || undefined}
                    className="link aria-[current]:bg-well aria-[current]:text-ink"
                    onMouseDown={(event) => event.preventDefault()}
                    onClick={() => {
                      onTake({ step: one.key });
                      setText("");
                    }}
                  >
                    {titleIn(one)}
                  </button>
                </span>
              ))}
            </p>
          )}
        </div>
        {text.trim() && (
          <span className="shrink-0 text-faint text-tiny">
            <Key>Enter</Key> take it <Key>Esc</Key> leave it
          </span>
        )}
      </div>
    </div>
  );
};
