/** Lists whose items are typed one below the other: Enter makes the next one, Backspace takes an empty one away, lines that
 * are pasted into an empty one become items of their own. */

import type { Item } from "../../draft/tree";
import type { Way } from "../../draft/useDraft";
import { moveFocus } from "../../ui/focus";
import { useEditing } from "./Editing";
import { inserted, keyed, type ListPlace, removed, set } from "./operations";
import { pastedLines } from "./pasted";
import { TEXT } from "./ways";

interface Pressed {
  key: string;
  shiftKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
  nativeEvent: { isComposing: boolean };
  preventDefault: () => void;
}

export function useTextItems(at: ListPlace, noun: string, way: Way = TEXT) {
  const { draft, tree } = useEditing();

  const onKeyDown = (event: Pressed, item: Item) => {
    if (event.nativeEvent.isComposing) return;
    if (event.key === "Enter" && !event.shiftKey && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      const next = keyed({});
      if (draft.do([inserted(tree, at, next, item.key)], `A ${noun} added`)) moveFocus({ item: next.key });
    }
    if (event.key === "Backspace" && !item.text) {
      event.preventDefault();
      const shown = tree.shown(at.parent, at.path);
      const before = shown[shown.findIndex(({ key }) => key === item.key) - 1];
      if (draft.do([removed(tree, item.key)], `A ${noun} taken out`) && before) moveFocus({ item: before.key });
    }
  };

  /** Whether it was a list, which is one deed then. */
  const onPaste = (text: string, item: Item): boolean => {
    const [first, ...rest] = pastedLines(text);
    if (first === undefined || rest.length === 0 || item.text) return false;
    const made = rest.map((line) => keyed({ text: way.write(line, null) }));
    const operations = [
      set(tree, item.key, ["text"], way.write(first, null)),
      ...made.map((one, number) => inserted(tree, at, one, made[number - 1]?.key ?? item.key)),
    ];
    if (draft.do(operations, "A list pasted")) moveFocus({ item: made.at(-1)?.key ?? item.key });
    return true;
  };

  return { onKeyDown, onPaste };
}
