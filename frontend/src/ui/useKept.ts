/** Text that somebody is typing outlasts a reload, a wrong key and a page that breaks: kept for this window alone. */
import { useState } from "react";

const NAME = "mild-ladder-typed ";

export function useKept(what: string): [string, (text: string) => void] {
  const name = NAME + what;
  const [text, setText] = useState(() => sessionStorage.getItem(name) ?? "");
  const change = (next: string) => {
    setText(next);
    try {
      if (next) sessionStorage.setItem(name, next);
      else sessionStorage.removeItem(name);
    } catch {
      // A browser that keeps nothing still lets one type.
    }
  };
  return [text, change];
}
