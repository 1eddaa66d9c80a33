import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useId, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { symptomsQuery } from "../api/lists";
import { giveFocusBack, toHeading } from "../ui/focus";
import { Key } from "../ui/Key";
import { printed } from "../ui/keys";
import { OptionList, optionId } from "../ui/OptionList";
import { useKeys } from "../ui/useKeys";
import { useSettled } from "../ui/useSettled";
import { type FINDING, FOUND_KINDS, options } from "./finds";
import { foundCasesQuery } from "./queries";

const SHORTEST = 2;
const STANDS_STILL_MS = 200;

const nameOf = ({ to, title }: { to: string; title: string }) => `${to} ${title}`;

/** Find a symptom by a sign, a step, a unit or a case, each under its kind, with what of it matched. */
export const FindBox = () => {
  const [words, setWords] = useState("");
  const [isOpen, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string>();
  const input = useRef<HTMLInputElement>(null);
  const before = useRef<Element | null>(null);
  const list = useId();
  const navigate = useNavigate();
  const wanted = words.trim();
  const settled = useSettled(wanted, STANDS_STILL_MS) ?? "";
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  const cases = useQuery({ ...foundCasesQuery(settled), enabled: settled.length >= SHORTEST });
  useKeys({ find: () => input.current?.focus() });
  const state = useLocation().state as typeof FINDING | null;
  useEffect(() => {
    if (state?.isFinding) input.current?.focus();
  }, [state]);

  const found = options(symptoms, settled === wanted ? (cases.data?.cases ?? []) : [], wanted);
  // The thing that is chosen, not its place: what arrives meanwhile moves no choice.
  const at = Math.max(
    0,
    found.findIndex((option) => nameOf(option) === chosen),
  );
  const choose = (place: number) => {
    const option = found[(place + found.length) % found.length];
    if (option) setChosen(nameOf(option));
  };
  const shown = isOpen && wanted.length >= SHORTEST;
  const go = (to: string) => {
    setOpen(false);
    setWords("");
    toHeading();
    navigate(to);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.nativeEvent.isComposing) return;
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) choose(at + by);
    else if (event.key === "Enter" && shown) go(found[at]?.to ?? "/");
    else if (event.key === "Escape") {
      setOpen(false);
      giveFocusBack(before.current);
    } else return;
    event.preventDefault();
  };

  return (
    <div className="relative w-64 max-md:w-auto max-md:min-w-28 max-md:flex-1">
      <input
        ref={input}
        role="combobox"
        aria-label="Find a symptom, step, unit or case"
        aria-expanded={shown}
        aria-controls={list}
        aria-activedescendant={shown ? optionId(list, at) : undefined}
        className="field pr-8"
        placeholder="Find a symptom, step, unit, case"
        maxLength={200}
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setOpen(true);
          setChosen(undefined);
        }}
        onFocus={(event) => {
          before.current = event.relatedTarget;
          setOpen(true);
        }}
        onBlur={() => setOpen(false)}
        onKeyDown={onKeyDown}
      />
      <span className="pointer-events-none absolute top-1.5 right-2 text-faint">
        <Key>{printed("find")}</Key>
      </span>
      <OptionList
        id={list}
        label="Found"
        groups={FOUND_KINDS.map((name) => ({
          name,
          isNameShown: true,
          options: found.filter(({ kind }) => kind === name),
        }))}
        keyOf={nameOf}
        chosen={at}
        onTake={({ to }) => go(to)}
        onPoint={(option) => setChosen(nameOf(option))}
        isHidden={!shown}
        className="absolute right-0 z-30 mt-1 max-h-[75vh] w-[26rem] max-w-[90vw] overflow-auto rounded-sm border border-rule bg-sheet py-1 shadow-md"
        optionClassName="px-3 py-1"
      >
        {({ title, says }) => (
          <>
            <p className="truncate font-semibold">{title}</p>
            <p className="truncate text-dense text-faint">{says}</p>
          </>
        )}
      </OptionList>
    </div>
  );
};
