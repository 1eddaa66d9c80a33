import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type RefObject, useEffect, useId, useRef } from "react";
import { titleOf } from "../../draft/items";
import { ROOT } from "../../draft/tree";
import { Key } from "../../ui/Key";
import { useKept } from "../../ui/useKept";
import { useOptions } from "../../ui/useOptions";
import { useSettled } from "../../ui/useSettled";
import { useEditing } from "../fields/Editing";
import { pastedLines } from "../fields/pasted";
import { elsewhere, hereAlready, keyOfOther, OtherSteps, type Taken } from "./OtherSteps";
import { foundStepsQuery, quickQuery } from "./queries";
import { Said } from "./Said";

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
/** A line of fewer letters could be anything; one of more says more than a title. */
const SOONEST = 3;
const LONGEST = 200;

/** One line in quick words: what is understood stands below it before Enter takes it. */
export const QuickLine = ({ label, placeholder, input, onTake, onList, onLeave }: QuickLineProps) => {
  const { tree, playbookId } = useEditing();
  const [text, setText] = useKept(`line ${playbookId} ${label}`);
  const settled = useSettled(text.trim(), 120);
  const { data } = useQuery({ ...quickQuery(settled ?? "", playbookId), enabled: !!settled });
  const quick = text.trim() ? data?.lines[0] : undefined;
  const id = useId();
  const begun = text.trim().toLowerCase();
  const isLookedFor = begun.length >= SOONEST && begun.length <= LONGEST;
  const found = useQuery({
    ...foundStepsQuery(settled ?? "", playbookId),
    enabled: isLookedFor && settled !== undefined,
  });
  const here = isLookedFor
    ? tree
        .shown(ROOT, ["steps"])
        .filter((one) => titleOf(one).toLowerCase().includes(begun))
        .slice(0, SHOWN)
        .map(hereAlready)
    : [];
  const others = isLookedFor && settled !== undefined ? (found.data?.steps ?? []).map(elsewhere) : [];
  const take = (taken: Taken) => {
    onTake(taken);
    setText("");
    options.unchoose();
  };
  const options = useOptions({
    options: [...here, ...others],
    keyOf: keyOfOther,
    isOpen: true,
    onTake: (other) => take(other.taken),
  });
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing || options.onKey(event)) return;
    if (event.key === "Enter") {
      event.preventDefault();
      if (text.trim()) take({ text: text.trim() });
      else onLeave();
    } else if (event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      setText("");
      onLeave();
    }
  };
  const place = useRef<HTMLDivElement>(null);
  const lines = Number(quick !== undefined) + here.length + others.length;
  useEffect(() => {
    if (lines > 0) place.current?.scrollIntoView({ block: "nearest" });
  }, [lines]);
  return (
    <div ref={place}>
      <input
        ref={input}
        type="text"
        className="field"
        autoComplete="off"
        {...options.field}
        aria-label={label}
        aria-describedby={`${id}-said`}
        placeholder={placeholder}
        value={text}
        onChange={({ target }) => {
          setText(target.value);
          options.unchoose();
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
      <div className="flex items-baseline gap-3">
        <div className="min-w-0 flex-1">
          <div id={`${id}-said`}>{quick && options.chosen < 0 && <Said quick={quick} />}</div>
          {here.length + others.length > 0 && (
            <OtherSteps
              id={options.list}
              here={here}
              others={others}
              chosen={options.chosen}
              onTake={(other) => take(other.taken)}
            />
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
