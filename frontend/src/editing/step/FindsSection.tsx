import { refOf, textOf, titleOf } from "../../draft/items";
import { type Item, ROOT } from "../../draft/tree";
import { count } from "../../ui/format";
import { useEditing } from "../fields/Editing";
import { ChoiceField, NumberField, ShareField, TextField } from "../fields/Field";
import { ItemList } from "../fields/ItemList";
import { inserted, keyed, removed } from "../fields/operations";
import { Section } from "./Section";
import type { StepProps } from "./Sections";

export const FindsSection = ({ step }: StepProps) => {
  const { tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const isCheck = step.kind === "check";
  const found = tree.shown(step.key, ["findings"]);
  return (
    <Section
      title="Finds"
      isSaying={isCheck || found.length > 0}
      says={found.length > 0 ? count(found.length) : undefined}
      missing={isCheck && found.length < 2 ? "a check needs two findings at least" : undefined}
    >
      <ItemList at={{ parent: step.key, path: ["findings"] }} noun="finding" nameOf={(one) => textOf(one, "title")}>
        {(finding) => (
          <>
            <TextField item={finding.key} path={["title"]} label="what is found" />
            <ul className="ml-2">
              {[...causes, { key: "*", title: "every other cause" }].map((cause) => (
                <li key={cause.key} className="flex items-baseline justify-between gap-2 text-dense">
                  <span className="text-faint">with {titleOf(cause)}</span>
                  <ShareField
                    item={finding.key}
                    path={["given", cause.key]}
                    label={`how often with ${titleOf(cause)}`}
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
  const options = findings.map((one) => ({ value: refOf(one), label: titleOf(one) }));
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
