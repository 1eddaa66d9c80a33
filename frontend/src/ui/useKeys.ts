/** Keys of a page: a map from key to what it does, silent while somebody types or a dialog is open. */
import { useEffect, useRef } from "react";

export type Keys = Record<string, (event: KeyboardEvent) => void>;

const TYPES = "input, textarea, select, [contenteditable]";

export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const where = event.target instanceof Element ? event.target : null;
      if (event.defaultPrevented || where?.closest(TYPES) || document.querySelector("[role=dialog], [role=menu]"))
        return;
      if (event.altKey) return;
      const modified = event.ctrlKey || event.metaKey;
      const name = `${modified ? "mod+" : ""}${modified && event.shiftKey ? "shift+" : ""}${event.key.toLowerCase()}`;
      const act = latest.current[name];
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, []);
}
