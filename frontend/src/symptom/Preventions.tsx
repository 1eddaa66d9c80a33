import { useState } from "react";
import { titleOf } from "../draft/items";
import { type Item, ROOT, type Tree } from "../draft/tree";
import { RefField } from "../editing/fields/Chosen";
import { useEditing } from "../editing/fields/Editing";
import { TextField } from "../editing/fields/Field";
import { ItemList } from "../editing/fields/ItemList";
import { inserted, itemNamed, keyed } from "../editing/fields/operations";
import { ConditionField, ProseField } from "../editing/fields/Texts";
import { EffortFields } from "../editing/step/EffortFields";
import { InstructionEditor } from "../editing/step/InstructionEditor";
import { Folded } from "../editing/step/Section";
import { moveFocus } from "../ui/focus";

const AT = { parent: ROOT, path: ["after_fix"] };

/** What is offered once the fault is gone so that it does not come again. Its steps stand on no rung: they are made and
 * edited here. */
export const Preventions = () => {
  const { draft, tree } = useEditing();
  const make = () => {
    const step = keyed({ kind: "prevention" });
    const entry = keyed({ step: step.key });
    const operations = [inserted(tree, { parent: ROOT, path: ["steps"] }, step), inserted(tree, AT, entry)];
    if (draft.do(operations, "A prevention made")) moveFocus({ item: step.key });
  };
  return (
    <>
      <ItemList at={AT} noun="prevention" nameOf={(entry) => nameOf(tree, entry)}>
        {(entry) => <Prevention entry={entry} />}
      </ItemList>
      <button type="button" className="link ml-3 text-dense text-faint" onClick={make}>
        make a step that prevents it
      </button>
    </>
  );
};

function nameOf(tree: Tree, entry: Item): string {
  const step = itemNamed(tree, "steps", entry.step);
  return step ? titleOf(step) : "";
}

const Prevention = ({ entry }: { entry: Item }) => {
  const { tree } = useEditing();
  const step = itemNamed(tree, "steps", entry.step);
  const isOnLadder = step !== undefined && [...tree.items.values()].some((one) => isRungOf(tree, one, step));
  return (
    <>
      <span className="flex flex-wrap items-end gap-x-3">
        <RefField
          item={entry.key}
          path={["step"]}
          label="offered once it is resolved"
          list="steps"
          kinds={["prevention"]}
        />
        <span className="min-w-48 flex-1">
          <ConditionField item={entry.key} label="offered only when" />
        </span>
      </span>
      {step && !isOnLadder && <PreventionStep key={step.key} step={step} />}
    </>
  );
};

const isRungOf = (tree: Tree, item: Item, step: Item) =>
  tree.spots.get(item.key)?.list.at(-1) !== "after_fix" &&
  item.step !== undefined &&
  tree.inSight(item.key) &&
  itemNamed(tree, "steps", item.step) === step;

const PreventionStep = ({ step: { key, ...step } }: { step: Item }) => {
  const [isNew] = useState(!step.do && !step.effort);
  return (
    <div data-item={key} className="mt-1 border-rule border-l-2 pl-2">
      <TextField item={key} path={["title"]} label="title of the step" isLong />
      <Folded says="what is done, how long it takes, what is said to the caller" isOpen={isNew}>
        <InstructionEditor at={{ parent: key, path: ["do"] }} step={key} />
        <EffortFields item={key} path={["effort"]} of="of the prevention" />
        <ProseField item={key} path={["say"]} label="said to the caller" step={key} />
      </Folded>
    </div>
  );
};
