import type { KeyboardEvent } from "react";
import type { Item } from "../../draft/tree";
import { moveFocus } from "../../ui/focus";
import { useEditing } from "../fields/Editing";
import { DurationField } from "../fields/Field";
import { ItemList } from "../fields/ItemList";
import { inserted, keyed, type ListPlace, set } from "../fields/operations";
import { PictureField } from "../fields/PictureField";
import { ConditionField, ProseField } from "../fields/Texts";
import { useTextItems } from "../fields/useTextItems";
import { Folded } from "./Section";

interface InstructionListProps {
  at: ListPlace;
  /** The step whose values fill its blanks. */
  step?: string;
  noun?: string;
}

/** What is done, one thing after the other: Enter makes the next one, a pasted list becomes several. */
export const InstructionEditor = ({ at, step, noun = "thing to do" }: InstructionListProps) => {
  const { onKeyDown, onPaste } = useTextItems(at, noun);
  return (
    <ItemList at={at} noun={noun}>
      {(item, number) => (
        <Instruction
          item={item}
          number={number}
          {...(step && { step })}
          onKeyDown={(event) => onKeyDown(event, item)}
          onPaste={(text) => onPaste(text, item)}
        />
      )}
    </ItemList>
  );
};

interface InstructionProps {
  item: Item;
  number: number;
  step?: string;
  onKeyDown: (event: KeyboardEvent) => void;
  /** Whether it was a list. */
  onPaste: (text: string) => boolean;
}

const Instruction = ({ item, number, step, onKeyDown, onPaste }: InstructionProps) => {
  const { draft, tree } = useEditing();
  const { key } = item;
  const ways = tree.shown(key, ["ways"]);
  const split = () => {
    const first = keyed({ do: [{ text: item.text ?? "" }] });
    const second = keyed({ do: [{}] });
    const operations = [
      set(tree, key, ["text"], null),
      inserted(tree, { parent: key, path: ["ways"] }, first),
      inserted(tree, { parent: key, path: ["ways"] }, second, first.key),
    ];
    if (draft.do(operations, "Split into ways")) moveFocus({ item: second.key });
  };
  return (
    <div className="grid grid-cols-[1.1rem_minmax(0,1fr)]">
      <span className="pt-0.5 text-dense text-faint">{number + 1}</span>
      <div className="min-w-0">
        {ways.length === 0 ? (
          <ProseField
            item={key}
            path={["text"]}
            label={`What to do, ${number + 1}`}
            isPlain
            {...(step && { step })}
            onKeyDown={onKeyDown}
            onPaste={onPaste}
          />
        ) : (
          <ItemList at={{ parent: key, path: ["ways"] }} noun="way" blank={() => ({ do: [{}] })}>
            {(way, which) => (
              <div className="border-rule border-l-2 pl-2">
                <span className="text-faint text-tiny">{which === 0 ? "one way" : "or"}</span>
                <InstructionEditor at={{ parent: way.key, path: ["do"] }} {...(step && { step })} />
              </div>
            )}
          </ItemList>
        )}
        <More item={item} number={number} step={step} onSplit={ways.length === 0 ? split : undefined} />
      </div>
    </div>
  );
};

const MORE = ["copy", "hold", "when", "picture"] as const;

interface MoreProps {
  item: Item;
  number: number;
  step: string | undefined;
  onSplit: (() => void) | undefined;
}

/** What else an item may carry; folded while it carries nothing. */
const More = ({ item, number, step, onSplit }: MoreProps) => {
  const { key } = item;
  const carries = MORE.some((name) => item[name] != null);
  return (
    <Folded says={`${number + 1}: command, hold, condition, picture, ways`} isOpen={carries}>
      <ProseField item={key} path={["copy"]} label="command to copy" isMono {...(step && { step })} />
      <DurationField item={key} path={["hold"]} label="counted hold" placeholder="such as 10 s" />
      <ConditionField item={key} label="only when" />
      <PictureField item={key} path={["picture"]} label={`picture of item ${number + 1}`} />
      {onSplit && (
        <button type="button" className="link text-faint" onClick={onSplit}>
          another way
        </button>
      )}
    </Folded>
  );
};
