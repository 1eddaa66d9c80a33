import type { Guess } from "../api/types";
import { useDraft } from "../draft/useDraft";
import { say } from "../ui/say";
import { takingShares } from "./takeOver";

interface TakeSharesProps {
  guesses: Guess[];
  playbook: string;
}

/** Shares the causes in the draft as the cases do, where they contradict how the lead did. */
export const TakeShares = ({ guesses, playbook }: TakeSharesProps) => {
  const { draft, now } = useDraft(playbook);
  const { tree } = now;
  const operations = tree ? takingShares(tree, guesses) : [];
  if (operations.length === 0) return null;
  const take = () => {
    draft.do(operations, "causes shared as the cases have it");
    say("The draft shares its causes as the cases do");
  };
  return (
    <button type="button" className="link text-dense" onClick={take}>
      Share the causes so in the draft
    </button>
  );
};
