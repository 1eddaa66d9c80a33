import type { Item } from "../draft/tree";
import { titleIn } from "../fields/Chosen";
import { plural } from "../ui/format";
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

/** The steps that a line may mean: here already, or in other playbooks, with how they do there. */
export const OtherSteps = ({ id, here, elsewhere, chosen, onTake }: OtherStepsProps) => {
  const choice = (at: number) => ({ id: `${id}-${at}`, isChosen: at === chosen, onTake: () => onTake(at) });
  return (
    <div id={id} role="listbox" aria-label="Steps that it may be" className="text-faint text-tiny">
      {here.length > 0 && (
        <div role="group" aria-label="Here already">
          {here.map((one, number) => (
            <Choice key={one.key} {...choice(number)} title={titleIn(one)} says="here already" />
          ))}
        </div>
      )}
      {elsewhere.length > 0 && (
        <div role="group" aria-label="In other playbooks">
          {elsewhere.map((one, number) => (
            <Choice key={one.id} {...choice(here.length + number)} title={one.title} says={inWords(one)} />
          ))}
        </div>
      )}
    </div>
  );
};

interface ChoiceProps {
  id: string;
  isChosen: boolean;
  title: string;
  says: string;
  onTake: () => void;
}

const Choice = ({ id, isChosen, title, says, onTake }: ChoiceProps) => (
  <div
    id={id}
    role="option"
    tabIndex={-1}
    aria-selected={isChosen}
    className="cursor-pointer aria-selected:bg-well"
    onMouseDown={(event) => event.preventDefault()}
    onClick={onTake}
  >
    <span className="link text-ink">{title}</span> {says}
  </div>
);

/** Where a step is used, and how it does there. */
export function inWords({ also, used_in }: FoundStep): string {
  const uses = used_in.map(({ title, tried, resolved }) =>
    tried > 0 ? `${title}: resolved ${resolved} of ${plural(tried, "try", "tries")}` : title,
  );
  return [also ? `also called ${also}` : "", uses.length > 0 ? `in ${uses.join(", ")}` : "in no playbook now"]
    .filter(Boolean)
    .join("; ");
}
