import { titleOf } from "../../draft/items";
import type { Item } from "../../draft/tree";
import { count, plural } from "../../ui/format";
import { OptionList } from "../../ui/OptionList";
import type { FoundStep } from "./queries";

/** What a line came to: new words, a step that the playbook has, or one of the library. */
export type Taken = { text: string } | { step: string } | { library: string; title: string };

/** A step that a line may mean. */
export interface Other {
  key: string;
  title: string;
  says: string;
  taken: Taken;
}

export const hereAlready = (one: Item): Other => ({
  key: one.key,
  title: titleOf(one),
  says: "here already",
  taken: { step: one.key },
});

export const elsewhere = (one: FoundStep): Other => ({
  key: one.id,
  title: one.title,
  says: inWords(one),
  taken: { library: one.id, title: one.title },
});

export const keyOfOther = ({ key }: Other): string => key;

interface OtherStepsProps {
  id: string;
  here: readonly Other[];
  others: readonly Other[];
  /** Which of both, in that order, the arrow keys have come to. */
  chosen: number;
  onTake: (other: Other) => void;
}

/** The steps that a line may mean: here already, or in other playbooks, with how they do there. */
export const OtherSteps = ({ id, here, others, chosen, onTake }: OtherStepsProps) => (
  <OptionList
    id={id}
    label="Steps that it may be"
    groups={[
      { name: "Here already", options: here },
      { name: "In other playbooks", options: others },
    ]}
    keyOf={keyOfOther}
    chosen={chosen}
    onTake={onTake}
    className="text-faint text-tiny"
  >
    {({ title, says }) => (
      <>
        <span className="link text-ink">{title}</span> {says}
      </>
    )}
  </OptionList>
);

/** Where a step is used, and how it does there. */
function inWords({ also, used_in }: FoundStep): string {
  const uses = used_in.map(({ title, tried, resolved }) =>
    tried > 0 ? `${title}: resolved ${count(resolved)} of ${plural(tried, "try", "tries")}` : title,
  );
  return [also ? `also called ${also}` : "", uses.length > 0 ? `in ${uses.join(", ")}` : "in no playbook now"]
    .filter(Boolean)
    .join("; ");
}
