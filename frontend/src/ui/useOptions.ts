/** The one way in which a text field offers things below it: the arrows choose, Enter takes; what is chosen is the thing,
 * not its place, so that what arrives meanwhile moves no choice. */
import { type AriaAttributes, type KeyboardEvent, useId, useState } from "react";
import { optionId } from "./OptionList";

interface OptionsOf<T> {
  options: readonly T[];
  keyOf: (option: T) => string;
  isOpen: boolean;
  onTake: (option: T) => void;
  /** The first is chosen until another one is; else none is, and the field's own words stand. */
  isFirstChosen?: boolean;
  /** Tab takes what is chosen, too. */
  isTakenByTab?: boolean;
}

interface Options<T> {
  /** Id of the list. */
  list: string;
  /** The number of the option that is chosen; -1: none. */
  chosen: number;
  field: AriaAttributes & { role: "combobox" };
  point: (option: T) => void;
  unchoose: () => void;
  /** Whether the key was meant for the options, and is done with. */
  onKey: (event: KeyboardEvent) => boolean;
}

const BY: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };

export function useOptions<T>(of: OptionsOf<T>): Options<T> {
  const { options, keyOf, isOpen, onTake, isFirstChosen = false, isTakenByTab = false } = of;
  const list = useId();
  const [key, setKey] = useState<string>();
  const there = options.findIndex((option) => keyOf(option) === key);
  const chosen = isOpen && options.length > 0 ? Math.max(there, isFirstChosen ? 0 : -1) : -1;
  const point = (option: T) => setKey(keyOf(option));
  const moveBy = (by: number) => {
    const next = options[after(chosen, by, options.length, isFirstChosen)];
    setKey(next && keyOf(next));
  };
  const onKey = (event: KeyboardEvent): boolean => {
    // Enter that ends a composed character, as in Japanese, takes nothing yet.
    if (event.nativeEvent.isComposing || !isOpen || options.length === 0) return false;
    const by = event.altKey ? undefined : BY[event.key];
    const option = options[chosen];
    const isTaking = option !== undefined && (event.key === "Enter" || (isTakenByTab && event.key === "Tab"));
    if (!by && !isTaking) return false;
    event.preventDefault();
    if (by) moveBy(by);
    else if (option) onTake(option);
    return true;
  };
  const isShown = isOpen && options.length > 0;
  return {
    list,
    chosen,
    point,
    unchoose: () => setKey(undefined),
    onKey,
    field: {
      role: "combobox",
      "aria-autocomplete": "list",
      "aria-expanded": isShown,
      "aria-controls": isShown ? list : undefined,
      "aria-activedescendant": chosen >= 0 ? optionId(list, chosen) : undefined,
    },
  };
}

/** The next place in a ring of so many, in which none (-1) stands before the first unless one is always chosen. */
function after(chosen: number, by: number, count: number, isOneChosen: boolean): number {
  if (isOneChosen) return (chosen + by + count) % count;
  return ((chosen + 1 + by + count + 1) % (count + 1)) - 1;
}
