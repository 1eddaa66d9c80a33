import { titleOf } from "../../draft/items";
import type { Item } from "../../draft/tree";
import { plural } from "../../ui/format";
import { OptionList } from "../../ui/OptionList";
import type { FoundStep } from "./queries";

interface OtherStepsProps {
  /** Of the list; each step of it has this and its number. */
  id: string;
  /** Steps that this playbook has. */
  here: readonly Item[];
  /** Steps of the library that it has not. */
  elsewhere: readonly FoundStep[];
  /** Which of both, in that order, the arrow keys have come to. */
  chosen: number;
  onTake: (at: number) => void;
}

interface Choice {
  key: string;
  title: string;
  says: string;
  at: number;
}

/** The steps that a line may mean: here already, or in other playbooks, with how they do there. */
export const OtherSteps = ({ id, here, elsewhere, chosen, onTake }: OtherStepsProps) => {
  const mine = here.map((one, at): Choice => ({ key: one.key, title: titleOf(one), says: "here already", at }));
  const theirs = elsewhere.map(
    (one, n): Choice => ({ key: one.id, title: one.title, says: inWords(one), at: here.length + n }),
  );
  return (
    <OptionList
      id={id}
      label="Steps that it may be"
      groups={[
        { name: "Here already", options: mine },
        { name: "In other playbooks", options: theirs },
      ]}
      keyOf={({ key }) => key}
      chosen={chosen}
      onTake={({ at }) => onTake(at)}
      className="text-faint text-tiny"
    >
      {({ title, says }) => (
        <>
          <span className="link text-ink">{title}</span> {says}
        </>
      )}
    </OptionList>
  );
};

/** Where a step is used, and how it does there. */
function inWords({ also, used_in }: FoundStep): string {
  const uses = used_in.map(({ title, tried, resolved }) =>
    tried > 0 ? `${title}: resolved ${resolved} of ${plural(tried, "try", "tries")}` : title,
  );
  return [also ? `also called ${also}` : "", uses.length > 0 ? `in ${uses.join(", ")}` : "in no playbook now"]
    .filter(Boolean)
    .join("; ");
}
