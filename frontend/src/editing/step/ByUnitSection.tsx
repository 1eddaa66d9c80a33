/** What is otherwise on which sorts of units: only what differs is filled in. */

import type { ReactNode } from "react";
import { titleOf } from "../../draft/items";
import { type Item, ROOT } from "../../draft/tree";
import { ChanceField, RefField } from "../fields/Chosen";
import { useEditing } from "../fields/Editing";
import { ShareField } from "../fields/Field";
import { ItemList, TextList } from "../fields/ItemList";
import { inserted, keyed, removed } from "../fields/operations";
import { ConditionField, ProseField } from "../fields/Texts";
import { EffortFields } from "./EffortFields";
import { GuardList } from "./Guards";
import { HazardList } from "./HazardList";
import { NeedList } from "./Needs";
import { Folded, Section } from "./Section";
import type { StepProps } from "./Sections";

export const ByUnitSection = ({ step }: StepProps) => {
  const { tree } = useEditing();
  const variants = tree.shown(step.key, ["varies"]);
  return (
    <Section title="By unit" isSaying={variants.length > 0} says={variants.length || undefined}>
      <ItemList at={{ parent: step.key, path: ["varies"] }} noun="sort of unit">
        {(variant) => <Variant variant={variant} step={step} />}
      </ItemList>
    </Section>
  );
};

/** What is otherwise on some units: only what differs is filled in. */
const Variant = ({ variant, step }: { variant: Item; step: Item }) => {
  const { tree } = useEditing();
  const { key } = variant;
  return (
    <div className="border-rule border-l-2 pl-2">
      <ConditionField item={key} label="on units for which" />
      <Folded says="effort there" isOpen={variant.effort != null}>
        <EffortFields item={key} path={["effort"]} part={[]} of="there" />
      </Folded>
      <div className="flex flex-wrap items-end gap-x-4">
        <ShareField item={key} path={["done"]} label="can be done there in" placeholder="as else" width="w-20" />
        <RefField
          item={key}
          path={["footing"]}
          label="done there in the state"
          list="footings"
          none="as else"
          more={[{ value: "any", label: "whatever stands" }]}
        />
      </div>
      <OfField at={{ item: key, name: "hazards" }} label="other risks there">
        {(holder) => <HazardList at={{ parent: holder, path: ["of"] }} but={step.key} />}
      </OfField>
      <OfField at={{ item: key, name: "fixes" }} label="ends other causes there">
        {(holder) => (
          <ul>
            {tree.shown(ROOT, ["causes"]).map((cause) => (
              <li key={cause.key} className="flex items-baseline justify-between gap-2 text-dense">
                <span>{titleOf(cause)}</span>
                <ChanceField item={holder} path={["of", cause.key]} label={`there ends ${titleOf(cause)}`} />
              </li>
            ))}
          </ul>
        )}
      </OfField>
      <OfField at={{ item: key, name: "to_hand" }} label="other things to have at hand there">
        {(holder) => <NeedList at={{ parent: holder, path: ["of"] }} />}
      </OfField>
      <TextsThere variant={variant} step={step.key} />
    </div>
  );
};

const TEXTS = {
  say: "said to the caller there",
  expect: "it worked there when",
  missing: "when something is missing there",
  stuck: "when it gets stuck there",
};
const LISTS = {
  harmless: { label: "other harmless signs there", noun: "harmless sign" },
  beware: { label: "other warnings there", noun: "warning" },
};

/** What is said otherwise on such units. */
const TextsThere = ({ variant, step }: { variant: Item; step: string }) => {
  const { key } = variant;
  const isSaying = [...Object.keys(TEXTS), ...Object.keys(LISTS), "guard"].some((name) => variant[name] != null);
  return (
    <Folded says="texts there" isOpen={isSaying}>
      {Object.entries(TEXTS).map(([name, label]) => (
        <ProseField key={name} item={key} path={[name]} label={label} step={step} />
      ))}
      {Object.entries(LISTS).map(([name, { label, noun }]) => (
        <OfField key={name} at={{ item: key, name }} label={label}>
          {(holder) => (
            <TextList at={{ parent: holder, path: ["of"] }} noun={noun} label={`${name} there`} isProse step={step} />
          )}
        </OfField>
      ))}
      <OfField at={{ item: key, name: "guard" }} label="other guards there">
        {(holder) => <GuardList at={{ parent: holder, path: ["of"] }} step={step} />}
      </OfField>
    </Folded>
  );
};

interface OfFieldProps {
  at: { item: string; name: string };
  label: string;
  children: (holder: string) => ReactNode;
}

/** Something that says something by being empty: ticked, it stands for itself. */
const OfField = ({ at: { item, name }, label, children }: OfFieldProps) => {
  const { draft, tree } = useEditing();
  const place = { parent: item, path: [name] };
  const [holder] = tree.shown(item, [name]);
  const toggle = () =>
    draft.do([holder ? removed(tree, holder.key) : inserted(tree, place, keyed({}))], `${label}: changed`);
  return (
    <div className="text-dense">
      <label className="flex items-baseline gap-1.5">
        <input type="checkbox" checked={holder !== undefined} onChange={toggle} />
        {label}
      </label>
      {holder && <div className="ml-4">{children(holder.key)}</div>}
    </div>
  );
};
