import type { ReactNode } from "react";
import type { Item } from "../draft/tree";
import { titleIn } from "../fields/Chosen";
import { plural } from "../ui/format";
import type { FoundStep } from "./queries";

interface OtherStepsProps {
  /** Steps that this playbook has. */
  here: readonly Item[];
  /** Steps of the library that it has not. */
  elsewhere: readonly FoundStep[];
  /** Which of both, in that order, the arrow keys have come to. */
  chosen: number;
  onTake: (at: number) => void;
}

/** The steps that a line may mean: here already, or in other playbooks, with how they do there. */
export const OtherSteps = ({ here, elsewhere, chosen, onTake }: OtherStepsProps) => {
  const choice = (at: number) => ({ isChosen: at === chosen, onTake: () => onTake(at) });
  return (
    <>
      {here.length > 0 && (
        <p className="text-faint text-tiny">
          here already:{" "}
          {here.map((one, number) => (
            <span key={one.key}>
              {number > 0 && " · "}
              <Choice {...choice(number)}>{titleIn(one)}</Choice>
            </span>
          ))}
        </p>
      )}
      {elsewhere.length > 0 && (
        <ul aria-label="In other playbooks" className="text-faint text-tiny">
          {elsewhere.map((one, number) => (
            <li key={one.id}>
              <Choice {...choice(here.length + number)}>{one.title}</Choice> {inWords(one)}
            </li>
          ))}
        </ul>
      )}
    </>
  );
};

interface ChoiceProps {
  isChosen: boolean;
  onTake: () => void;
  children: ReactNode;
}

const Choice = ({ isChosen, onTake, children }: ChoiceProps) => (
  <button
    type="button"
    tabIndex={-1}
    aria-current={isChosen || undefined}
    className="link aria-[current]:bg-well aria-[current]:text-ink"
    onMouseDown={(event) => event.preventDefault()}
    onClick={onTake}
  >
    {children}
  </button>
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
