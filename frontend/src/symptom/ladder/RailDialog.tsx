import { titleOf } from "../../draft/items";
import { useEditing } from "../../editing/fields/Editing";
import { stepOf } from "../../editing/fields/operations";
import { OUTCOMES } from "../../editing/fields/words";
import { Dialog } from "../../ui/Dialog";
import { railInWords } from "./shown";

interface RailDialogProps {
  /** The rung on which the rail hangs; undefined while nothing is asked. */
  host: string | undefined;
  onClose: () => void;
  /** name: the finding or outcome; undefined for a finding that is to be made. */
  onChoose: (name: string | undefined) => void;
}

/** After which finding or outcome a rung is to come. */
export const RailDialog = ({ host, onClose, onChoose }: RailDialogProps) => {
  const { tree } = useEditing();
  const names = host ? railNames(host, tree) : [];
  const title = host ? titleOf(stepOf(tree, tree.item(host)) ?? { key: "" }) : "";
  return (
    <Dialog
      isOpen={host !== undefined}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title="Into a side rail"
      says={`It is climbed only after one finding or outcome of “${title}”. Which?`}
    >
      <ul className="space-y-1">
        {names.map((name) => (
          <li key={name}>
            <button type="button" className="button" onClick={() => onChoose(name)}>
              {railInWords(tree, name)}
            </button>
          </li>
        ))}
        <li>
          <button type="button" className="button" data-tone="quiet" onClick={() => onChoose(undefined)}>
            a new finding
          </button>
        </li>
      </ul>
      <p className="mt-4">
        <button type="button" className="button" data-tone="quiet" onClick={onClose}>
          Leave it where it is
        </button>
      </p>
    </Dialog>
  );
};

const NO_RAIL = new Set(["no-change", "better"]);

/** What a rail of a rung may hang on. */
export function railNames(host: string, tree: ReturnType<typeof useEditing>["tree"]): string[] {
  const step = stepOf(tree, tree.item(host));
  const findings = step ? tree.shown(step.key, ["findings"]).map(({ key }) => key) : [];
  const outcomes = OUTCOMES.flatMap(({ value }) => {
    const fits = value !== "restored" || step?.kind === "workaround";
    return NO_RAIL.has(value) || !fits ? [] : [value];
  });
  return [...findings, ...outcomes];
}
