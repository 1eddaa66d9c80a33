/** What the cases say of the chosen step, beside what the lead judged. */
import { isTested } from "../../api/meaning";
import type { EstimateView, Evidence, Guess, Step } from "../../api/types";
import { useEditing } from "../../editing/fields/Editing";
import { minutes, percent, plural } from "../../ui/format";
import { isTakenOver, takingOver } from "../evidence/takeOver";
import { range } from "../evidence/words";

interface TookProps {
  evidence: Evidence | undefined;
  step: Pick<Step, "id" | "kind">;
}

/** How long it took, in the median, with the test after it; nothing where too few tell. */
export const Took = ({ evidence, step }: TookProps) => {
  const took = evidence?.rows.find((row) => row.step === step.id)?.minutes;
  if (!took) return null;
  return (
    <p className="text-dense text-plum">
      took {minutes(took.median)}
      {isTested(step.kind) && ", its test included,"} in the median of {plural(took.tries, "try", "tries")}
      {took.is_off && <span className="text-brass">, judged {minutes(took.judged)}</span>}
    </p>
  );
};

/** How often a step ends a cause; what contradicts the lead's guess is taken over in one press. */
export const Ended = ({ guess }: { guess: Guess }) => {
  const { draft, tree } = useEditing();
  const learned = percent(guess.seen.mean ?? 0);
  const operations = guess.is_contradicted && !isTakenOver(tree, guess) ? takingOver(tree, guess) : [];
  return (
    <span className={`block text-tiny ${guess.learned < 0.5 ? "text-faint" : "text-plum"}`}>
      cases say {learned} ({range(guess.seen)})
      {operations.length > 0 && (
        <button
          type="button"
          className="link ml-2"
          onClick={() => draft.do(operations, `A learned figure taken over: ${guess.says}`)}
        >
          take {learned}
        </button>
      )}
    </span>
  );
};

/** What was learned of a step about a cause; of the step itself, not as it is on some units. */
export const endsOf = (
  estimate: EstimateView | undefined,
  step: string,
  names: readonly unknown[],
): Guess | undefined =>
  estimate?.guesses.find(
    (one) => one.what === "ends" && one.step === step && one.variant == null && names.includes(one.about),
  );
