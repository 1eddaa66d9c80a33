/** Text fields whose value lives elsewhere, such as in the address. */
import { useEffect, useRef, useState } from "react";

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
