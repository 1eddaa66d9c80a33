/** The sections of a step's editor, in the order in which a lead thinks of them. */
import type { ReactNode } from "react";
import { type Item, ROOT } from "../draft/tree";
import { useEditing } from "../fields/Editing";
import { ChoiceField, NumberField, ShareField, TextField, TickField } from "../fields/Field";
import { ItemList, TextList } from "../fields/ItemList";
import { inserted, keyed, refOf, removed } from "../fields/operations";
import { ChanceField, ConditionField, ProseField, RefField, titleIn } from "../fields/Special";
import {
  AFTER_ENDS,
  ENDS_OF_GUARD,
  FACT_TYPES,
  HALVES,
  PROVES,
  PUT_BACK,
  SOURCES,
  UNDOABLE,
  YES_NO,
} from "../fields/words";
import { EffortFields } from "./EffortFields";
import { HazardList } from "./HazardList";
import { InstructionList } from "./Instructions";
import { NeedList } from "./Needs";
import { Folded, Section } from "./Section";

interface StepProps {
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
      <InstructionList at={{ parent: step.key, path: ["do"] }} step={step.key} />
      {children}
    </Section>
  );
};

export const EffortSection = ({ step, children }: StepProps) => (
  <Section title="Effort" isSaying>
    <EffortFields item={step.key} path={["effort"]} />
    <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
      <ShareField item={step.key} path={["done"]} label="can be done in" placeholder="100" />
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
  const { draft } = useEditing();
  if (step.search == null) {
    const begin = () =>
      draft.do(
        [
          {
            op: "set",
            key: step.key,
            path: ["search"],
            was: null,
            value: { over: "parts", count: 2, how: "one-by-one" },
          },
        ],
        "A search added",
      );
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
          <TextField {...undo("how")} label="how it is undone" isLong />
          <EffortFields item={step.key} path={["undo"]} part={["effort"]} of="of putting back" />
        </>
      )}
    </Section>
  );
};

export const EndsSection = ({ step, children }: StepProps) => {
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
          <li
            key={cause.key}
            className="flex items-baseline justify-between gap-2 border-rule border-b py-0.5 text-dense"
          >
            <span>{titleIn(cause)}</span>
            <ChanceField item={step.key} path={["fixes", cause.key]} label={`ends ${titleIn(cause)}`} />
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
        <ChoiceField item={step.key} path={["proves"]} label="can be tested" options={PROVES} none="where one stands" />
        <TextField
          item={step.key}
          path={["watch"]}
          label="normal use before it is judged"
          placeholder="PT4H"
          width="w-28"
        />
      </div>
      {children}
    </Section>
  );
};

export const FindsSection = ({ step }: StepProps) => {
  const { tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const isCheck = step.kind === "check";
  const found = tree.shown(step.key, ["findings"]);
  return (
    <Section
      title="Finds"
      isSaying={isCheck || found.length > 0}
      says={found.length > 0 ? `${found.length}` : undefined}
      missing={isCheck && found.length < 2 ? "a check needs two findings at least" : undefined}
    >
      <ItemList at={{ parent: step.key, path: ["findings"] }} noun="finding" nameOf={(one) => String(one.title ?? "")}>
        {(finding) => (
          <>
            <TextField item={finding.key} path={["title"]} label="what is found" />
            <ul className="ml-2">
              {[...causes, { key: "*", title: "every other cause" }].map((cause) => (
                <li key={cause.key} className="flex items-baseline justify-between gap-2 text-dense">
                  <span className="text-faint">with {titleIn(cause)}</span>
                  <ShareField
                    item={finding.key}
                    path={["given", cause.key]}
                    label={`how often with ${titleIn(cause)}`}
                    isPlain
                    width="w-14"
                  />
                </li>
              ))}
            </ul>
          </>
        )}
      </ItemList>
      <ReadingFields step={step} findings={found} />
    </Section>
  );
};

const ReadingFields = ({ step, findings }: { step: Item; findings: readonly Item[] }) => {
  const { draft, tree } = useEditing();
  const reading = tree.shown(step.key, ["reading"])[0];
  const options = findings.map((one) => ({ value: refOf(one), label: titleIn(one) }));
  if (!reading) {
    if (findings.length === 0) return null;
    const begin = () => {
      const bands = findings.map((one) => ({ finding: refOf(one) }));
      draft.do([inserted(tree, { parent: step.key, path: ["reading"] }, keyed({ bands }))], "A reading added");
    };
    return (
      <button type="button" className="link ml-3 text-dense text-faint" onClick={begin}>
        a number decides it
      </button>
    );
  }
  return (
    <fieldset className="mt-2 border-rule border-l-2 pl-2">
      <legend className="text-faint text-tiny">the number that decides it</legend>
      <TextField item={reading.key} path={["unit"]} label="read in" width="w-20" placeholder="V" />
      <ItemList at={{ parent: reading.key, path: ["bands"] }} noun="range">
        {({ key }) => (
          <span className="flex items-end gap-x-2">
            <NumberField item={key} path={["below"]} label="below" placeholder="all the rest" width="w-24" />
            <ChoiceField item={key} path={["finding"]} label="stands for" options={options} />
          </span>
        )}
      </ItemList>
      <button
        type="button"
        className="link text-dense text-faint"
        onClick={() => draft.do([removed(tree, reading.key)], "The reading taken out")}
      >
        no number decides it
      </button>
    </fieldset>
  );
};

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
                <span>{titleIn(cause)}</span>
                <ChanceField item={holder} path={["of", cause.key]} label={`there ends ${titleIn(cause)}`} />
              </li>
            ))}
          </ul>
        )}
      </OfField>
      <OfField at={{ item: key, name: "to_hand" }} label="other things to have at hand there">
        {(holder) => <NeedList at={{ parent: holder, path: ["of"] }} />}
      </OfField>
    </div>
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

const FINE = ["guard", "beware", "harmless", "to_hand", "inputs", "uses", "includes", "needs", "afterwards"];
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
            nameOf={(one) => String(one.ask ?? "")}
          >
            {(input) => <InputFields input={input} />}
          </ItemList>
        </Part>
        <Part title="Guards">
          <ItemList at={list("guard")} noun="guard" blank={() => ({ must: "yes", else: "not-available" })}>
            {(guard) => <GuardFields guard={guard} step={key} />}
          </ItemList>
        </Part>
        <Part title="Beware">
          <TextList at={list("beware")} noun="warning" label="beware" />
        </Part>
        {prose("expect", "it worked when")}
        <Part title="Harmless">
          <TextList at={list("harmless")} noun="harmless sign" label="harmless" />
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
        <Part title="Uses, on the unit">
          <TextList at={list("uses")} noun="thing that must still work" label="uses" />
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

const InputFields = ({ input }: { input: Item }) => {
  const { key } = input;
  const isComputed = input.compute != null;
  const type = String(input.type ?? "text");
  return (
    <span className="flex flex-wrap items-end gap-x-3 gap-y-1 border-rule border-l-2 pl-2">
      <TextField item={key} path={["ask"]} label="asked, or called" width="w-44" />
      <TextField item={key} path={["where"]} label="where it is found" width="w-40" />
      {!isComputed && <ChoiceField item={key} path={["type"]} label="it is" options={FACT_TYPES} />}
      <TextField item={key} path={["form"]} label="what it looks like" width="w-28" placeholder="1 to 12" />
      <NumberField item={key} path={["most"]} label="most characters" placeholder="120" />
      {type === "text" && !isComputed && (
        <TextField item={key} path={["pattern"]} label="pattern" isMono width="w-28" placeholder="G[0-9]{2}" />
      )}
      <NumberField item={key} path={["min"]} label="least" />
      <NumberField item={key} path={["max"]} label="most" />
      <TextField item={key} path={["compute"]} label="worked out as" isMono width="w-32" placeholder="speed * 0.92" />
      <NumberField item={key} path={["round"]} label="rounded to" />
      {type === "choice" && (
        <span className="w-full">
          <TextList at={{ parent: key, path: ["options"] }} noun="choice" label="choice" />
        </span>
      )}
    </span>
  );
};

const GuardFields = ({ guard, step }: { guard: Item; step: string }) => {
  const { draft, tree } = useEditing();
  const { key } = guard;
  const teams = tree.shown(ROOT, ["hand_offs"]);
  const there = guard.else as string | { hand_off?: string } | undefined;
  const value = typeof there === "object" && there !== null ? `to ${there.hand_off}` : (there ?? "");
  const team = teams.find((one) => value === `to ${one.id}` || value === `to ${one.key}`);
  return (
    <span className="flex flex-wrap items-end gap-x-3">
      <span className="min-w-40 flex-1">
        <ProseField item={key} path={["ask"]} label="question before it is done" step={step} />
      </span>
      <ChoiceField item={key} path={["must"]} label="the answer must be" options={YES_NO} />
      <label className="block text-tiny text-faint">
        otherwise
        <select
          className="line block"
          value={team ? `to ${refOf(team)}` : value}
          onChange={({ target }) => {
            const next = target.value.startsWith("to ") ? { hand_off: target.value.slice(3) } : target.value;
            draft.do([{ op: "set", key, path: ["else"], was: guard.else ?? null, value: next }], "otherwise changed");
          }}
        >
          {ENDS_OF_GUARD.map((one) => (
            <option key={one.value} value={one.value}>
              {one.label}
            </option>
          ))}
          {teams.map((one) => (
            <option key={one.key} value={`to ${refOf(one)}`}>
              handed off to {titleIn(one)}
            </option>
          ))}
        </select>
      </label>
    </span>
  );
};
