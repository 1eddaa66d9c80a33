import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useId, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { find } from "./find";
import { symptomsQuery } from "./queries";

const MOST = 6;

/** Find a symptom by a sign or a step, or search the log for the same words. */
export const FindBox = () => {
  const [words, setWords] = useState("");
  const [isOpen, setOpen] = useState(false);
  const [at, setAt] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const list = useId();
  const navigate = useNavigate();
  const { data: symptoms = [] } = useQuery(symptomsQuery);
  useKeys({ "/": () => input.current?.focus() });

  const options = [
    ...find(symptoms, words)
      .slice(0, MOST)
      .map(({ symptom, because }) => ({
        to: `/playbooks/${symptom.id}/ladder`,
        title: symptom.title,
        says: because === symptom.title ? symptom.says : because,
      })),
    {
      to: `/cases?words=${encodeURIComponent(words)}`,
      title: `Cases with “${words}”`,
      says: "in what was said, units, notes",
    },
  ];
  const shown = isOpen && words.trim().length > 1;
  const go = (to: string) => {
    setOpen(false);
    setWords("");
    input.current?.blur();
    navigate(to);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) setAt((was) => (was + by + options.length) % options.length);
    else if (event.key === "Enter" && shown) go(options[at]?.to ?? "/");
    else if (event.key === "Escape") setOpen(false);
    else return;
    event.preventDefault();
  };

  return (
    <div className="relative w-64">
      <input
        ref={input}
        role="combobox"
        aria-label="Find a sign, step or case"
        aria-expanded={shown}
        aria-controls={list}
        aria-activedescendant={shown ? `${list}-${at}` : undefined}
        className="field pr-8"
        placeholder="Find a sign, step or case"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setOpen(true);
          setAt(0);
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={onKeyDown}
      />
      <span className="pointer-events-none absolute top-1.5 right-2 text-faint">
        <Key>/</Key>
      </span>
      <div
        id={list}
        role="listbox"
        aria-label="Found"
        hidden={!shown}
        className="absolute right-0 z-30 mt-1 w-96 rounded-sm border border-rule bg-sheet py-1 shadow-md"
      >
        {options.map((option, number) => (
          <div
            key={option.to}
            id={`${list}-${number}`}
            role="option"
            aria-selected={number === at}
            className="cursor-pointer px-3 py-1.5 aria-selected:bg-well"
            onMouseDown={(event) => event.preventDefault()}
            onMouseEnter={() => setAt(number)}
            onClick={() => go(option.to)}
          >
            <p className="font-semibold">{option.title}</p>
            <p className="truncate text-dense text-faint">{option.says}</p>
          </div>
        ))}
      </div>
    </div>
  );
};
