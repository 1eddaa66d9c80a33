import { type KeyboardEvent, type ReactNode, useRef } from "react";
import type { Item } from "../draft/tree";
import { say } from "../ui/say";
import { useEditing } from "./Editing";
import { TextField } from "./Field";
import { type Blank, inserted, keyed, type ListPlace, removed, shifted } from "./operations";

interface ItemListProps {
  at: ListPlace;
  /** What one of them is called: “add a risk”. */
  noun: string;
  /** What is already known of a new one; undefined: nothing can be added now. */
  blank?: () => Blank;
  nameOf?: (item: Item) => string;
  children: (item: Item, number: number) => ReactNode;
  most?: number;
  /** Adding one is seldom: it is said small. */
  isQuiet?: boolean;
}

const FIRST = "input, select, textarea";

/** A list of things that are edited where they stand: each can be moved with Alt and an arrow, and taken out. */
export const ItemList = ({ at, noun, blank = () => ({}), nameOf, children, most, isQuiet }: ItemListProps) => {
  const { draft, tree } = useEditing();
  const list = useRef<HTMLOListElement>(null);
  const adder = useRef<HTMLButtonElement>(null);
  const items = tree.shown(at.parent, at.path);
  const called = (item: Item, number: number) => nameOf?.(item) || `${noun} ${number + 1}`;
  const add = () => {
    const item = keyed(blank());
    if (draft.do([inserted(tree, at, item)], `A ${noun} added`)) focusIn(list.current, item.key);
  };
  const takeOut = (item: Item, number: number) => {
    const next = items[number + 1] ?? items[number - 1];
    draft.do([removed(tree, item.key)], `${capital(called(item, number))} taken out`);
    say(`${capital(called(item, number))} taken out`);
    if (next) focusIn(list.current, next.key);
    else adder.current?.focus();
  };
  const onKeyDown = (event: KeyboardEvent, item: Item) => {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (!by || !event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const move = shifted(tree, item.key, by);
    const focused = document.activeElement as HTMLElement | null;
    if (move && draft.do([move], `A ${noun} moved`)) requestAnimationFrame(() => focused?.focus());
  };
  return (
    <>
      {items.length > 0 && (
        <ol ref={list}>
          {items.map((item, number) => (
            <li
              key={item.key}
              data-item={item.key}
              className="group/item relative py-1 pr-6"
              onKeyDown={(event) => onKeyDown(event, item)}
            >
              {children(item, number)}
              <button
                type="button"
                aria-label={`Take out ${called(item, number)}`}
                title={`Take out ${called(item, number)}`}
                className="absolute top-1 right-0 px-1.5 text-faint opacity-50 hover:text-clay hover:opacity-100 focus-visible:opacity-100 group-focus-within/item:opacity-100"
                onClick={() => takeOut(item, number)}
              >
                ×
              </button>
            </li>
          ))}
        </ol>
      )}
      {(most === undefined || items.length < most) && (
        <button
          ref={adder}
          type="button"
          className={`link text-faint ${isQuiet ? "text-tiny opacity-80" : "text-dense"}`}
          onClick={add}
        >
          add {withArticle(noun)}
        </button>
      )}
    </>
  );
};

/** Give the cursor to the first field of an item, once it is there. */
export function focusIn(list: Element | null, key: string): void {
  requestAnimationFrame(() => {
    const holder = list ?? document;
    const found = holder.querySelector<HTMLElement>(`[data-item="${CSS.escape(key)}"]`);
    (found ?? document.querySelector<HTMLElement>(`[data-item="${CSS.escape(key)}"]`))
      ?.querySelector<HTMLElement>(FIRST)
      ?.focus();
  });
}

export const withArticle = (noun: string) =>
  /^(another|one more) /.test(noun) ? noun : `${/^[aeiou]/i.test(noun) ? "an" : "a"} ${noun}`;
const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

interface TextListProps {
  at: ListPlace;
  noun: string;
  label: string;
  placeholder?: string;
}

/** A list of short texts: Enter makes the next one, Backspace takes an empty one away, lines that are pasted become
 * texts of their own. */
export const TextList = ({ at, noun, label, placeholder }: TextListProps) => {
  const { draft, tree } = useEditing();
  const after = (item: Item, texts: readonly string[]) => {
    const made = texts.map((text) => keyed(text ? { text } : {}));
    const operations = made.map((one, number) => inserted(tree, at, one, made[number - 1]?.key ?? item.key));
    if (draft.do(operations, `A ${noun} added`)) focusIn(null, made.at(-1)?.key ?? item.key);
  };
  return (
    <ItemList at={at} noun={noun}>
      {(item, number) => (
        <TextField
          item={item.key}
          path={["text"]}
          label={`${label} ${number + 1}`}
          isPlain
          isLong
          {...(placeholder && { placeholder })}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !event.shiftKey && !event.ctrlKey && !event.metaKey) {
              event.preventDefault();
              after(item, [""]);
            }
            if (event.key === "Backspace" && !item.text) {
              event.preventDefault();
              const before = tree.shown(at.parent, at.path)[number - 1];
              draft.do([removed(tree, item.key)], `A ${noun} taken out`);
              if (before) focusIn(null, before.key);
            }
          }}
          onPaste={(text) => {
            const lines = pastedLines(text);
            if (lines.length < 2 || item.text) return false;
            after(item, lines);
            draft.do([removed(tree, item.key)], `An empty ${noun} taken out`);
            return true;
          }}
        />
      )}
    </ItemList>
  );
};

/** The lines of a pasted list, without the numbers or bullets that word processors put before them. */
export const pastedLines = (text: string): string[] =>
  text
    .split(/\r\n?|\n/)
    .map((line) => line.replace(/^\s*(?:[-–—*•‣◦▪·o]|\(?\d{1,3}[.)]|[a-z][.)])\s+/i, "").trim())
    .filter(Boolean);
