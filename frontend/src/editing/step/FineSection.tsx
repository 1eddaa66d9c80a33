/** The fine print of a step: what is asked, guarded, said, needed and left to do. */

import type { ReactNode } from "react";
import { textOf } from "../../draft/items";
import type { Item } from "../../draft/tree";
import { asked, withNames } from "../fields/blanks";
import { RefField } from "../fields/Chosen";
import { useEditing } from "../fields/Editing";
import { ChoiceField, DurationField, NumberField, TextField, TickField } from "../fields/Field";
import { ItemList, TextList } from "../fields/ItemList";
import { ProseField } from "../fields/Texts";
import { NAME } from "../fields/ways";
import { AFTER_ENDS, FACT_TYPES, SOURCES } from "../fields/words";
import { GuardList } from "./Guards";
import { NeedList } from "./Needs";
import { Section } from "./Section";
import type { StepProps } from "./Sections";

const FINE = ["guard", "beware", "harmless", "to_hand", "inputs", "uses", "includes", "cancels", "needs", "afterwards"];
const FINE_TEXTS = ["say", "expect", "missing", "stuck", "unbroken", "source"];

export const FineSection = ({ step }: StepProps) => {
  const { tree } = useEditing();
  const { key } = step;
  const count =
    FINE.filter((name) => tree.shown(key, [name]).length > 0).length +
    FINE_TEXTS.filter((name) => step[name] != null).length;
  const prose = (name: string, label: string) => <ProseField item={key} path={[name]} label={label} step={key} />;
  const list = (name: string) => ({ parent: key, path: [name] });
  const source = (name: string) => ({ item: key, path: ["source"], part: [name] });
  return (
    <Section title="Fine print" isSaying={false} says={count || undefined}>
      <div className="space-y-2">
        {prose("say", "said to the caller")}
        <Part title="Values that are asked">
          <ItemList
            at={list("inputs")}
            noun="value"
            blank={() => ({ type: "text" })}
            nameOf={(one) => textOf(one, "ask")}
          >
            {(input) => <InputFields input={input} step={key} />}
          </ItemList>
        </Part>
        <Part title="Guards">
          <GuardList at={list("guard")} step={key} />
        </Part>
        <Part title="Beware">
          <TextList at={list("beware")} noun="warning" label="beware" isProse step={key} />
        </Part>
        {prose("expect", "it worked when")}
        <Part title="Harmless">
          <TextList at={list("harmless")} noun="harmless sign" label="harmless" isProse step={key} />
        </Part>
        {prose("missing", "when something is missing")}
        {prose("stuck", "when it gets stuck")}
        <Part title="To hand">
          <NeedList at={list("to_hand")} />
        </Part>
        <Part title="Needs to have been done">
          <RefList at={list("needs")} noun="step that must come before" label="must come before" but={key} />
        </Part>
        <Part title="Does as well">
          <RefList at={list("includes")} noun="step that it does as well" label="does as well" but={key} />
        </Part>
        <Part title="Undoes">
          <RefList at={list("cancels")} noun="step that is not done any more after it" label="undoes" but={key} />
        </Part>
        <Part title="Uses, on the unit">
          <TextList at={list("uses")} noun="thing that must still work" label="uses" way={NAME} />
        </Part>
        <TickField item={key} path={["unbroken"]} label="must not be interrupted once begun" />
        <Part title="Afterwards">
          <ItemList at={list("afterwards")} noun="loose end">
            {(end) => (
              <span className="flex flex-wrap items-end gap-x-2">
                <span className="min-w-40 flex-1">
                  <ProseField item={end.key} path={["text"]} label="still to be done" step={key} />
                </span>
                <ChoiceField item={end.key} path={["if"]} label="to be done" options={AFTER_ENDS} none="always" />
                <DurationField
                  item={end.key}
                  path={["due"]}
                  label="due so long after the case"
                  placeholder="such as 7 days"
                />
              </span>
            )}
          </ItemList>
        </Part>
        <Part title="Source">
          <span className="flex flex-wrap items-end gap-x-3">
            <ChoiceField {...source("kind")} label="it comes from" options={SOURCES} none="not said" />
            <TextField {...source("ref")} label="where it is written" width="w-40" />
            <TextField {...source("read")} label="read on" placeholder="2026-03-01" width="w-24" />
          </span>
        </Part>
      </div>
    </Section>
  );
};

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <fieldset>
    <legend className="font-semibold text-dense">{title}</legend>
    {children}
  </fieldset>
);

interface RefListProps {
  at: { parent: string; path: readonly string[] };
  noun: string;
  label: string;
  but: string;
}

const RefList = ({ at, noun, label, but }: RefListProps) => (
  <ItemList at={at} noun={noun}>
    {(item) => <RefField item={item.key} path={["text"]} label={label} isPlain list="steps" but={but} />}
  </ItemList>
);

/** What is typed freely, and so looks like something. */
const FREE = new Set(["text", "number", "version", "duration"]);

const InputFields = ({ input, step }: { input: Item; step: string }) => {
  const { tree } = useEditing();
  const { key } = input;
  const isComputed = input.compute != null;
  const type = textOf(input, "type") || "text";
  return (
    <span className="flex flex-wrap items-end gap-x-3 gap-y-1 border-rule border-l-2 pl-2">
      <TextField item={key} path={["ask"]} label="asked, or called" width="w-44" />
      <TextField item={key} path={["where"]} label="where it is found" width="w-40" />
      {!isComputed && <ChoiceField item={key} path={["type"]} label="it is" options={FACT_TYPES} />}
      {FREE.has(type) && (
        <TextField item={key} path={["form"]} label="what it looks like" width="w-28" placeholder="1 to 12" />
      )}
      {type === "text" && !isComputed && (
        <>
          <NumberField item={key} path={["most"]} label="most characters" placeholder="120" />
          <TextField item={key} path={["pattern"]} label="pattern" isMono width="w-28" placeholder="G[0-9]{2}" />
        </>
      )}
      {type === "number" && (
        <>
          <NumberField item={key} path={["min"]} label="least" />
          <NumberField item={key} path={["max"]} label="most" />
        </>
      )}
      {type === "text" && (
        <TextField
          item={key}
          path={["compute"]}
          label="worked out as"
          isMono
          width="w-44"
          placeholder="{Speed} * 0.92"
          way={withNames(asked(tree, step))}
        />
      )}
      {isComputed && <NumberField item={key} path={["round"]} label="rounded to" />}
      {type === "choice" && (
        <span className="w-full">
          <TextList at={{ parent: key, path: ["options"] }} noun="choice" label="choice" />
        </span>
      )}
    </span>
  );
};
