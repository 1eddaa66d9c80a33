/** Which cases are shown stands in the address, so that a link or going back restores it. */
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { CaseFilter } from "./queries";

export function useCaseFilter(symptom?: string) {
  const [params, setParams] = useSearchParams();
  const filter: CaseFilter = {
    symptom: symptom ?? params.get("symptom") ?? "",
    step: params.get("step") ?? "",
    end: params.get("end") ?? "",
    words: params.get("words") ?? "",
  };
  const change = (name: keyof CaseFilter, value: string) =>
    setParams(
      (now) => {
        if (value) now.set(name, value);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  return { filter, change };
}

const STANDS_STILL_MS = 200;

/** A field whose text goes to the address once it stands still: what is typed meanwhile is never taken back by it. */
export function useTyped(value: string, onChange: (value: string) => void): [string, (text: string) => void] {
  const [text, setText] = useState(value);
  const told = useRef(value);
  const tell = useRef(onChange);
  tell.current = onChange;
  useEffect(() => {
    if (value !== told.current) {
      told.current = value;
      setText(value);
    }
  }, [value]);
  useEffect(() => {
    if (text === told.current) return;
    const timer = window.setTimeout(() => {
      told.current = text;
      tell.current(text);
    }, STANDS_STILL_MS);
    return () => window.clearTimeout(timer);
  }, [text]);
  return [text, setText];
}
