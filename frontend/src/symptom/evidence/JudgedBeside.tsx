import { Link } from "react-router";
import type { Guess } from "../../api/types";
import { useDraft } from "../../draft/useDraft";
import { percent } from "../../ui/format";
import { say } from "../../ui/say";
import { isTakenOver, takingOver } from "./takeOver";
import { range } from "./words";

interface JudgedProps {
  guesses: Guess[];
  playbook: string;
  step: string;
}

/** The lead's guesses of one step beside what was learned; one that the cases contradict is taken over in one press. */
export const JudgedBeside = ({ guesses, playbook, step }: JudgedProps) => {
  const isContradicted = guesses.some((one) => one.is_contradicted);
  return (
    <>
      <table className="w-full text-dense">
        <thead className="text-faint text-tiny">
          <tr className="[&>th]:font-normal">
            <th scope="col" className="sr-only">
              what
            </th>
            <th scope="col" className="text-right">
              judged
            </th>
            <th scope="col" className="pl-2 text-right">
              learned
            </th>
          </tr>
        </thead>
        <tbody>
          {guesses.map((one) => (
            <tr key={one.says} className="border-rule border-t align-top">
              <th
                scope="row"
                className={`py-0.5 pr-2 text-left ${one.is_contradicted ? "font-semibold text-clay" : "font-normal"}`}
              >
                {one.says}
              </th>
              <td className="whitespace-nowrap py-0.5 text-right">{percent(one.judged)}</td>
              <td className={`py-0.5 pl-2 text-right ${one.learned < 0.5 ? "text-faint" : "text-plum"}`}>
                {percent(one.seen.mean ?? 0)} <span className="whitespace-nowrap text-tiny">({range(one.seen)})</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {isContradicted && <TakeOver guesses={guesses.filter((one) => one.is_contradicted)} playbook={playbook} />}
      <p className="mt-1 text-dense">
        <Link className="link" to={`/playbooks/${playbook}/ladder?step=${step}`}>
          See it on the ladder
        </Link>
      </p>
    </>
  );
};

/** Puts the learned figures into the draft, and says so where they stand there already. */
const TakeOver = ({ guesses, playbook }: { guesses: Guess[]; playbook: string }) => {
  const { draft, now } = useDraft(playbook);
  const { tree } = now;
  if (!tree) return null;
  const open = guesses.filter((one) => !isTakenOver(tree, one) && takingOver(tree, one).length > 0);
  if (open.length === 0) return <p className="mt-1 text-dense text-moss">The draft has what was learned.</p>;
  const take = () => {
    const says = open.length === 1 ? "a learned figure taken over" : "learned figures taken over";
    const operations = open.flatMap((one) => takingOver(tree, one));
    if (draft.do(operations, says))
      say(`Now in the draft: ${open.map((one) => `${one.says} ${percent(one.seen.mean ?? 0)}`).join(", ")}`);
  };
  return (
    <p className="mt-1 text-dense">
      <button type="button" className="link font-semibold" onClick={take}>
        {open.length === 1 ? "Take the learned figure over" : `Take ${open.length} learned figures over`}
      </button>
    </p>
  );
};
