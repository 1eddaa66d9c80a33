import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type RefObject, useEffect, useId, useRef, useState } from "react";
import { titleOf } from "../../draft/items";
import { ROOT } from "../../draft/tree";
import { Key } from "../../ui/Key";
import { optionId } from "../../ui/OptionList";
import { useKept } from "../../ui/useKept";
import { useSettled } from "../../ui/useSettled";
import { useEditing } from "../fields/Editing";
import { pastedLines } from "../fields/pasted";
import { OtherSteps } from "./OtherSteps";
import { foundStepsQuery, quickQuery } from "./queries";
import { Said } from "./Said";

/** What a line came to: new words, a step that the playbook has, or one of the library. */
export type Taken = { text: string } | { step: string } | { library: string; title: string };

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
  const [chosen, setChosen] = useState(-1);
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
    : [];
  const elsewhere = isLookedFor && settled !== undefined ? (found.data?.steps ?? []) : [];
  const others: Taken[] = [
    ...here.map((one) => ({ step: one.key })),
    ...elsewhere.map(({ id, title }) => ({ library: id, title })),
  ];
  const took = (taken: Taken) => {
    onTake(taken);
    setText("");
    setChosen(-1);
  };
  const take = () => {
    const other = others[chosen];
    if (!other && !text.trim()) return onLeave();
    took(other ?? { text: text.trim() });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    // Enter that ends a composed character, as in Japanese, takes nothing yet.
    if (event.nativeEvent.isComposing) return;
    if (event.key === "Enter") {
      event.preventDefault();
      take();
    } else if (event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      setText("");
      onLeave();
    } else if ((event.key === "ArrowDown" || event.key === "ArrowUp") && !event.altKey && others.length > 0) {
      event.preventDefault();
      const by = event.key === "ArrowDown" ? 1 : -1;
      setChosen(((chosen + 1 + by + others.length + 1) % (others.length + 1)) - 1);
    }
  };
  const place = useRef<HTMLDivElement>(null);
  const lines = Number(quick !== undefined) + others.length;
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
        role="combobox"
        aria-label={label}
        aria-describedby={`${id}-said`}
        aria-autocomplete="list"
        aria-expanded={others.length > 0}
        aria-controls={others.length > 0 ? `${id}-others` : undefined}
        aria-activedescendant={others[chosen] ? optionId(`${id}-others`, chosen) : undefined}
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
      <div className="flex items-baseline gap-3">
        <div className="min-w-0 flex-1">
          <div id={`${id}-said`}>{quick && chosen < 0 && <Said quick={quick} />}</div>
          {others.length > 0 && (
            <OtherSteps
              id={`${id}-others`}
              here={here}
              elsewhere={elsewhere}
              chosen={chosen}
              onTake={(at) => others[at] && took(others[at])}
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
