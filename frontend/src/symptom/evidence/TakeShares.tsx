import { useState } from "react";
import type { Guess } from "../../api/types";
import { useDraft } from "../../draft/useDraft";
import { say } from "../../ui/say";
import { takingShares, takingUnits } from "./takeOver";

interface TakeSharesProps {
  guesses: Guess[];
  playbook: string;
  of: keyof typeof TAKING;
}

const TAKING = {
  causes: {
    operations: takingShares,
    label: "Share the causes so in the draft",
    done: "causes shared as the cases have it",
    said: "The draft shares its causes as the cases do",
  },
  units: {
    operations: takingUnits,
    label: "Share the units so in the draft",
    done: "units shared as the cases have it",
    said: "The draft shares its units as the cases do",
  },
};

/** Shares the causes, or the units, in the draft as the cases do, where they contradict how the lead did. */
export const TakeShares = ({ guesses, playbook, of }: TakeSharesProps) => {
  const { draft, now } = useDraft(playbook);
  const [isTaken, setTaken] = useState(false);
  const { tree } = now;
  const taking = TAKING[of];
  const operations = tree ? taking.operations(tree, guesses) : [];
  if (operations.length === 0) return isTaken ? <p className="text-dense text-moss">{taking.said}.</p> : null;
  const take = () => {
    if (!draft.do(operations, taking.done)) return;
    setTaken(true);
    say(taking.said);
  };
  return (
    <button type="button" className="link text-dense" onClick={take}>
      {taking.label}
    </button>
  );
};
