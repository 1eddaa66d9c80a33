import type { Item } from "../../draft/tree";
import { RefField } from "../fields/Chosen";
import { useEditing } from "../fields/Editing";
import { ChoiceField, ShareField } from "../fields/Field";
import { ItemList } from "../fields/ItemList";
import { type ListPlace, set } from "../fields/operations";
import { HAZARDS, SEVERITIES, UNDOABLE } from "../fields/words";

/** Harm that may be done, as sentences made of words that can be changed. */
export const HazardList = ({ at, but }: { at: ListPlace; but?: string }) => (
  <ItemList at={at} noun="risk" blank={() => ({ kind: "service", severity: 2, chance: 0.1 })}>
    {(hazard) => <Hazard hazard={hazard} {...(but && { but })} />}
  </ItemList>
);

const Hazard = ({ hazard, but }: { hazard: Item; but?: string }) => {
  const { draft, tree } = useEditing();
  const { key } = hazard;
  const isEased = hazard.eased_by != null;
  return (
    <span className="flex flex-wrap items-baseline gap-x-1.5 text-dense">
      may harm
      <ChoiceField item={key} path={["kind"]} label="what may be harmed" isPlain options={HAZARDS} />
      <ChoiceField item={key} path={["severity"]} label="how bad" isPlain isNumber options={SEVERITIES} />
      in
      <ShareField item={key} path={["chance"]} label="how likely" isPlain width="w-10" />
      of the times; eased by
      <RefField
        item={key}
        path={["eased_by"]}
        label="eased by"
        isPlain
        list="steps"
        kinds={["safeguard"]}
        none="nothing"
        {...(but && { but })}
        onChoose={(value) =>
          draft.do(
            [
              set(tree, key, ["eased_by"], value),
              ...(value === null || hazard.eased_to == null ? [set(tree, key, ["eased_to"], value && 0.1)] : []),
            ],
            "eased by changed",
          )
        }
      />
      {isEased && (
        <>
          to
          <ShareField item={key} path={["eased_to"]} label="eased to" isPlain width="w-10" />
          of that
        </>
      )}
      ; this harm can be undone:
      <ChoiceField
        item={key}
        path={["undo"]}
        label="this harm can be undone"
        isPlain
        options={UNDOABLE}
        none="as the step"
      />
    </span>
  );
};
