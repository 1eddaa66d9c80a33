import { type KeyboardEvent, type ReactNode, useRef } from "react";
import type { Item } from "../../draft/tree";
import type { Way } from "../../draft/useDraft";
import { moveFocus } from "../../ui/focus";
import { say } from "../../ui/say";
import { fillers, withBlanks } from "./blanks";
import { useEditing } from "./Editing";
import { TextField } from "./Field";
import { type Blank, inserted, keyed, type ListPlace, removed, shifted } from "./operations";
import { withArticle } from "./pasted";
import { ProseField } from "./Texts";
import { useTextItems } from "./useTextItems";

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

/** A list of things that are edited where they stand: each can be moved with Alt and an arrow, and taken out. */
export const ItemList = ({ at, noun, blank = () => ({}), nameOf, children, most, isQuiet }: ItemListProps) => {
  const { draft, tree } = useEditing();
  const adder = useRef<HTMLButtonElement>(null);
  const items = tree.shown(at.parent, at.path);
  const called = (item: Item, number: number) => nameOf?.(item) || `${noun} ${number + 1}`;
  const add = () => {
    const item = keyed(blank());
    if (draft.do([inserted(tree, at, item)], `A ${noun} added`)) moveFocus({ item: item.key });
  };
  const takeOut = (item: Item, number: number) => {
    const next = items[number + 1] ?? items[number - 1];
    const says = `${capital(called(item, number))} taken out`;
    if (!draft.do([removed(tree, item.key)], says)) return;
    say(says);
    if (next) moveFocus({ item: next.key });
    else adder.current?.focus();
  };
  const onKeyDown = (event: KeyboardEvent, item: Item) => {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (!by || !event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const move = shifted(tree, item.key, by);
    if (move && draft.do([move], `A ${noun} moved`)) moveFocus({ item: item.key });
  };
  return (
    <>
      {items.length > 0 && (
        <ol>
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
                className="absolute top-1 right-0 px-1.5 text-faint hover:text-clay"
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
          className={`link text-faint ${isQuiet ? "text-tiny" : "text-dense"}`}
          onClick={add}
        >
          add {withArticle(noun)}
        </button>
      )}
    </>
  );
};

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

interface TextListProps {
  at: ListPlace;
  noun: string;
  label: string;
  placeholder?: string;
  way?: Way;
  /** Agents read it: it has blanks, which values of this step fill first. */
  isProse?: boolean;
  step?: string;
}

/** A list of short texts: Enter makes the next one, Backspace takes an empty one away, lines that are pasted become
 * texts of their own. */
export const TextList = ({ at, noun, label, placeholder, way, isProse, step }: TextListProps) => {
  const { tree } = useEditing();
  const { onKeyDown, onPaste } = useTextItems(at, noun, isProse ? withBlanks(fillers(tree, step)) : way);
  return (
    <ItemList at={at} noun={noun}>
      {(item, number) => {
        const field = {
          item: item.key,
          path: ["text"],
          label: `${label} ${number + 1}`,
          isPlain: true,
          ...(placeholder && { placeholder }),
          onKeyDown: (event: KeyboardEvent<HTMLElement>) => onKeyDown(event, item),
        };
        return isProse ? (
          <ProseField {...field} {...(step && { step })} onPaste={(text) => onPaste(text, item)} />
        ) : (
          <TextField {...field} isLong {...(way && { way })} onPaste={(text) => onPaste(text, item)} />
        );
      }}
    </ItemList>
  );
};
