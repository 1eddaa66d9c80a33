import { refOf, titleOf } from "../../draft/items";
import { type Item, ROOT } from "../../draft/tree";
import { useEditing } from "../fields/Editing";
import { ChoiceField, TickField } from "../fields/Field";
import { ItemList } from "../fields/ItemList";
import { itemNamed, type ListPlace } from "../fields/operations";
import { ProseField } from "../fields/Texts";
import { ENDS_OF_GUARD, YES_NO } from "../fields/words";

/** The questions that are asked before a step is done. */
export const GuardList = ({ at, step }: { at: ListPlace; step: string }) => (
  <ItemList at={at} noun="guard" blank={() => ({ must: "yes", else: "not-available" })}>
    {(guard) => <GuardFields guard={guard} step={step} />}
  </ItemList>
);

const GuardFields = ({ guard, step }: { guard: Item; step: string }) => {
  const { draft, tree } = useEditing();
  const { key } = guard;
  const teams = tree.shown(ROOT, ["hand_offs"]);
  const there = guard.else as string | { hand_off?: string } | undefined;
  const team = typeof there === "object" && there ? itemNamed(tree, "hand_offs", there.hand_off) : undefined;
  const take = (value: string | null) => {
    const next = value?.startsWith("to ") ? { hand_off: value.slice(3) } : value;
    return draft.do([{ op: "set", key, path: ["else"], was: guard.else ?? null, value: next }], "Changed: otherwise");
  };
  return (
    <span className="flex flex-wrap items-end gap-x-3">
      <span className="min-w-40 flex-1">
        <ProseField item={key} path={["ask"]} label="question before it is done" step={step} />
      </span>
      <ChoiceField item={key} path={["must"]} label="the answer must be" options={YES_NO} />
      <ChoiceField
        item={key}
        path={["else"]}
        label="otherwise"
        options={[
          ...ENDS_OF_GUARD,
          ...teams.map((one) => ({ value: `to ${refOf(one)}`, label: `handed off to ${titleOf(one)}` })),
        ]}
        shown={team ? `to ${refOf(team)}` : typeof there === "string" ? there : ""}
        onChoose={take}
      />
      <TickField item={key} path={["inside"]} label="asked once the state is entered" />
    </span>
  );
};
