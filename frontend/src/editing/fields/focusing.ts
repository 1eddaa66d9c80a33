/** The cursor goes with the deed. */
import { flushSync } from "react-dom";

const FIRST = "input, select, textarea";

/** Do a deed and give the cursor to the first field of an item at once: whoever types on writes there. */
export function doAndFocus(deed: () => boolean, key: string): void {
  let isDone = false;
  flushSync(() => {
    isDone = deed();
  });
  if (isDone) focusItem(key);
}

/** Give the cursor to the first field of an item. */
export function focusItem(key: string): void {
  const item = document.querySelector(`[data-item="${CSS.escape(key)}"]`);
  item?.querySelector<HTMLElement>(FIRST)?.focus();
}
