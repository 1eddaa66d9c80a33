import { textOf, titleOf } from "../draft/items";
import { ROOT } from "../draft/tree";
import { RefField } from "../editing/fields/Chosen";
import { useEditing } from "../editing/fields/Editing";
import { ItemList, TextList } from "../editing/fields/ItemList";
import { itemNamed } from "../editing/fields/operations";
import { ProseField } from "../editing/fields/Texts";
import { NAME } from "../editing/fields/ways";
import { EffortFields } from "../editing/step/EffortFields";
import { HazardList } from "../editing/step/HazardList";
import { InstructionEditor } from "../editing/step/InstructionEditor";
import { NeedList } from "../editing/step/Needs";
import { Folded } from "../editing/step/Section";
import { plural } from "../ui/format";

/** States that steps need: what entering and leaving each costs, and how it is done. */
export const FootingList = () => {
  const { tree } = useEditing();
  return (
    <ItemList at={{ parent: ROOT, path: ["footings"] }} noun="state" nameOf={(one) => textOf(one, "title")}>
      {(footing) => {
        const outer = itemNamed(tree, "footings", footing.within);
        const used = tree
          .shown(ROOT, ["steps"])
          .filter((one) => itemNamed(tree, "footings", one.footing) === footing).length;
        return (
          <div className="border-slate border-l-2 pl-2">
            <span className="flex flex-wrap items-end gap-x-3">
              <span className="min-w-40 flex-1">
                <ProseField item={footing.key} path={["title"]} label="state" />
              </span>
              <RefField
                item={footing.key}
                path={["within"]}
                label="within"
                list="footings"
                but={footing.key}
                none="none"
              />
              <span className="text-faint text-tiny">
                {plural(used, "step")}
                {outer && `, within ${titleOf(outer)}`}
              </span>
            </span>
            <TextList
              at={{ parent: footing.key, path: ["lost"] }}
              noun="thing that is not there while it stands"
              label="taken away"
              way={NAME}
            />
            <Folded says="entering" isOpen>
              <EffortFields item={footing.key} path={["enter"]} of="of entering" />
              <InstructionEditor at={{ parent: footing.key, path: ["enter", "do"] }} noun="thing to do on entering" />
              <br />
              <HazardList at={{ parent: footing.key, path: ["enter", "hazards"] }} />
              <br />
              <NeedList at={{ parent: footing.key, path: ["enter", "to_hand"] }} />
            </Folded>
            <Folded says="leaving" isOpen>
              <EffortFields item={footing.key} path={["leave"]} of="of leaving" />
              <InstructionEditor at={{ parent: footing.key, path: ["leave", "do"] }} noun="thing to do on leaving" />
            </Folded>
          </div>
        );
      }}
    </ItemList>
  );
};
