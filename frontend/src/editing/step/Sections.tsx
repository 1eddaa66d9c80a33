/** The sections of a step's editor, in the order in which a lead thinks of them. */

import type { ReactNode } from "react";
import { titleOf } from "../../draft/items";
import { type Item, ROOT } from "../../draft/tree";
import { ChanceField, RefField } from "../fields/Chosen";
import { useEditing } from "../fields/Editing";
import { ChoiceField, DurationField, NumberField, ShareField, TextField, TickField } from "../fields/Field";
import { ProseField } from "../fields/Texts";
import { NAME } from "../fields/ways";
import { HALVES, PROVES, PUT_BACK, UNDOABLE } from "../fields/words";
import { EffortFields } from "./EffortFields";
import { HazardList } from "./HazardList";
import { InstructionEditor } from "./InstructionEditor";
import { Section } from "./Section";
import { searchBegun } from "./search";

export interface StepProps {
  step: Item;
  /** What else stands at the foot of the section. */
  children?: ReactNode;
}

const has = (tree: { shown: (key: string, path: readonly string[]) => Item[] }, key: string, ...lists: string[]) =>
  lists.some((name) => tree.shown(key, [name]).length > 0);

export const TextSection = ({ step, children }: StepProps) => {
  const { tree } = useEditing();
  return (
    <Section title="Text" isSaying missing={has(tree, step.key, "do") ? undefined : "no instruction is written yet"}>
      <InstructionEditor at={{ parent: step.key, path: ["do"] }} step={step.key} />
      {children}
    </Section>
  );
};

export const EffortSection = ({ step, children }: StepProps) => (
  <Section title="Effort" isSaying>
    <EffortFields item={step.key} path={["effort"]} />
    <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
      <ShareField item={step.key} path={["done"]} label="can be done in" placeholder="100" width="w-24" />
      <RefField
        item={step.key}
        path={["footing"]}
        label="done in the state"
        list="footings"
        none="normal"
        more={[{ value: "any", label: "whatever stands" }]}
      />
    </div>
    {children}
    <SearchFields step={step} />
  </Section>
);

const SearchFields = ({ step }: { step: Item }) => {
  const { draft, tree } = useEditing();
  if (step.search == null) {
    const begin = () => draft.do(searchBegun(tree, step), "A search added");
    return (
      <button type="button" className="link text-dense text-faint" onClick={begin}>
        it searches through several like things
      </button>
    );
  }
  const at = (name: string) => ({ item: step.key, path: ["search"], part: [name] });
  return (
    <fieldset className="mt-2 border-rule border-l-2 pl-2">
      <legend className="text-faint text-tiny">search</legend>
      <span className="flex flex-wrap items-end gap-x-3">
        <TextField {...at("over")} label="searched through" width="w-28" />
        <NumberField {...at("count")} label="how many there are" />
        <ChoiceField {...at("how")} label="how it is searched" options={HALVES} />
        <TickField {...at("ask")} label="the agent says how many there are here" />
        <TextField
          {...at("found")}
          label="which one it was, as a value, is called"
          width="w-28"
          placeholder="bad lead"
          way={NAME}
        />
      </span>
      <EffortFields item={step.key} path={["search"]} part={["round"]} of="each time" />
      <button
        type="button"
        className="link text-dense text-faint"
        onClick={() =>
          draft.do(
            [{ op: "set", key: step.key, path: ["search"], was: step.search, value: null }],
            "The search taken out",
          )
        }
      >
        it is no search
      </button>
    </fieldset>
  );
};

export const RiskSection = ({ step, children }: StepProps) => {
  const { tree } = useEditing();
  const undo = (name: string) => ({ item: step.key, path: ["undo"], part: [name] });
  const isUndone = step.undo != null;
  return (
    <Section title="Risk" isSaying={has(tree, step.key, "hazards") || isUndone} says={children}>
      <HazardList at={{ parent: step.key, path: ["hazards"] }} but={step.key} />
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
        <ChoiceField {...undo("possible")} label="can it be undone?" options={UNDOABLE} none="no, as nothing is said" />
        <ChoiceField {...undo("after")} label="put back" options={PUT_BACK} none="never by itself" />
        {isUndone && (
          <RefField
            {...undo("footing")}
            label="put back in the state"
            list="footings"
            none="the step’s own"
            more={[{ value: "any", label: "whatever stands" }]}
          />
        )}
      </div>
      {isUndone && (
        <>
          <ProseField {...undo("how")} label="how it is undone" step={step.key} />
          <EffortFields item={step.key} path={["undo"]} part={["effort"]} of="of putting back" />
        </>
      )}
    </Section>
  );
};

interface EndsProps extends StepProps {
  /** What is said below a cause. */
  below?: (cause: Item) => ReactNode;
}

export const EndsSection = ({ step, below, children }: EndsProps) => {
  const { tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const isTested = step.kind === "fix" || step.kind === "workaround";
  const ends = causes.some(({ key }) => tree.value(step.key, ["fixes", key]) != null);
  return (
    <Section
      title="Ends"
      isSaying={isTested || ends}
      missing={isTested && !ends ? "no cause is named that it ends" : undefined}
    >
      <ul>
        {causes.map((cause) => (
          <li key={cause.key} className="border-rule border-b py-0.5 text-dense">
            <span className="flex items-baseline justify-between gap-2">
              <span>{titleOf(cause)}</span>
              <ChanceField item={step.key} path={["fixes", cause.key]} label={`ends ${titleOf(cause)}`} />
            </span>
            {below?.(cause)}
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
        <ChoiceField item={step.key} path={["proves"]} label="can be tested" options={PROVES} none="where one stands" />
        <DurationField
          item={step.key}
          path={["watch"]}
          label="normal use before it is judged"
          placeholder="such as 4 h"
        />
      </div>
      {children}
    </Section>
  );
};
