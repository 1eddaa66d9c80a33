/** Text that somebody is typing outlasts a reload, a wrong key and a page that breaks: kept for this window alone. */
import { useState } from "react";
import { windowStorage } from "./stored";

const NAME = "mild-ladder-typed ";

export function useKept(what: string): [string, (text: string) => void] {
  const name = NAME + what;
  const [text, setText] = useState(() => windowStorage.getItem(name) ?? "");
  const change = (next: string) => {
    setText(next);
    try {
      if (next) windowStorage.setItem(name, next);
      else windowStorage.removeItem(name);
    } catch {
      // A browser that keeps nothing still lets one type.
    }
  };
  return [text, change];
}
