import { textOf } from "../draft/items";
import { ROOT } from "../draft/tree";
import { ChoiceField, NumberField, TextField } from "../editing/fields/Field";
import { ItemList } from "../editing/fields/ItemList";
import { ConditionField } from "../editing/fields/Texts";
import { LAYERS } from "../editing/fields/words";
import { CauseBar } from "./CauseBar";
import { FactShares } from "./FactShares";
import { FootingList } from "./Footings";
import { Part } from "./Part";

/** What may be behind it, and what is asked about the unit. */
export const Behind = () => (
  <>
    <Part title="Suspected causes" says="drag a border, or type how common each is">
      <CauseBar />
      <p aria-hidden="true" className="flex gap-x-3 pr-6 text-faint text-tiny">
        <span className="flex-1" />
        <span className="w-24">where it sits</span>
        <span className="w-20">how common</span>
      </p>
      <ItemList
        at={{ parent: ROOT, path: ["causes"] }}
        noun="cause"
        blank={() => ({ layer: "hardware" })}
        nameOf={(one) => textOf(one, "title")}
      >
        {(cause) => (
          <>
            <span className="flex items-end gap-x-3">
              <span className="min-w-40 flex-1">
                <TextField item={cause.key} path={["title"]} label="cause" isPlain isStrong />
              </span>
              <ChoiceField
                item={cause.key}
                path={["layer"]}
                label="where it sits"
                isPlain
                options={LAYERS}
                width="w-24"
              />
              <NumberField item={cause.key} path={["weight"]} label="how common" isPlain placeholder="1" width="w-20" />
            </span>
            <div className="ml-4">
              <ItemList at={{ parent: cause.key, path: ["likelier"] }} noun="sort of unit where it is likelier" isQuiet>
                {({ key }) => (
                  <span className="flex flex-wrap items-end gap-x-3">
                    <NumberField item={key} path={["times"]} label="times as likely" />
                    <span className="min-w-48 flex-1">
                      <ConditionField item={key} label="where" />
                    </span>
                  </span>
                )}
              </ItemList>
            </div>
          </>
        )}
      </ItemList>
    </Part>
    <Part title="What is asked about the unit">
      <FactShares />
    </Part>
    <Part title="States that steps need">
      <FootingList />
    </Part>
  </>
);
