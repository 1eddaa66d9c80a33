import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { symptomsQuery } from "../api/lists";
import { giveFocusBack, toHeading } from "../ui/focus";
import { Key } from "../ui/Key";
import { printed } from "../ui/keys";
import { OptionList } from "../ui/OptionList";
import { useKeys } from "../ui/useKeys";
import { useOptions } from "../ui/useOptions";
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
  const input = useRef<HTMLInputElement>(null);
  const before = useRef<Element | null>(null);
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
  const shown = isOpen && wanted.length >= SHORTEST;
  const go = (to: string) => {
    setOpen(false);
    setWords("");
    toHeading();
    navigate(to);
  };
  const offered = useOptions({
    options: found,
    keyOf: nameOf,
    isOpen: shown,
    onTake: ({ to }) => go(to),
    isFirstChosen: true,
  });
  const onKeyDown = (event: KeyboardEvent) => {
    if (offered.onKey(event) || event.key !== "Escape") return;
    event.preventDefault();
    setOpen(false);
    giveFocusBack(before.current);
  };

  return (
    <div className="relative w-64 max-md:w-auto max-md:min-w-28 max-md:flex-1">
      <input
        ref={input}
        {...offered.field}
        aria-label="Find a symptom, step, unit or case"
        className="field pr-8"
        placeholder="Find a symptom, step, unit, case"
        maxLength={200}
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setOpen(true);
          offered.unchoose();
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
        id={offered.list}
        label="Found"
        groups={FOUND_KINDS.map((name) => ({
          name,
          isNameShown: true,
          options: found.filter(({ kind }) => kind === name),
        }))}
        keyOf={nameOf}
        chosen={offered.chosen}
        onTake={({ to }) => go(to)}
        onPoint={offered.point}
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
