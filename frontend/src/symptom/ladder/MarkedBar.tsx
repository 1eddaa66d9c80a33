import { refOf, titleOf } from "../../draft/items";
import { ROOT } from "../../draft/tree";
import { useEditing } from "../../editing/fields/Editing";
import { inserted, keyed, set, stepOf } from "../../editing/fields/operations";
import { plural } from "../../ui/format";
import { useKeys } from "../../ui/useKeys";
import { grouped, listPlaceOf, takenOut } from "./building";

interface MarkedBarProps {
  /** Keys of the marked rungs, from top to bottom. */
  keys: readonly string[];
  onRail: () => void;
  onDone: () => void;
}

/** What can be done with several rungs at once. */
export const MarkedBar = ({ keys, onRail, onDone }: MarkedBarProps) => {
  const { draft, tree } = useEditing();
  useKeys({ unmark: onDone });
  const does = (says: string, operations: ReturnType<typeof grouped>) => {
    if (draft.do(operations, says)) onDone();
  };
  const steps = keys.flatMap((key) => stepOf(tree, tree.item(key)) ?? []);
  const copies = () => {
    const made = keys.map((key) => keyed({ step: tree.value(key, ["step"]) }));
    const last = keys.at(-1) ?? "";
    return made.map((one, n) => inserted(tree, listPlaceOf(tree, last), one, made[n - 1]?.key ?? last));
  };
  return (
    <section
      aria-label="Marked rungs"
      className="flex shrink-0 flex-wrap items-center gap-2 border-brass border-b-2 bg-sheet px-6 py-1.5 text-dense max-md:px-4"
    >
      <p className="font-semibold" role="status">
        {plural(keys.length, "rung")} marked
      </p>
      <button
        type="button"
        className="button"
        disabled={keys.length < 2}
        onClick={() => does("A trial made", grouped(tree, keys, "trial", true))}
      >
        Test them together
      </button>
      <button
        type="button"
        className="button"
        disabled={keys.length < 2}
        onClick={() => does("Kept together", grouped(tree, keys, "keep", true))}
      >
        Keep them together
      </button>
      <button
        type="button"
        className="button"
        onClick={() => does("Parted", [...grouped(tree, keys, "trial", false), ...grouped(tree, keys, "keep", false)])}
      >
        Part them
      </button>
      <label className="flex items-center gap-1">
        done in
        <select
          className="line"
          value=""
          onChange={({ target }) =>
            does(
              "State changed",
              steps.map((step) => set(tree, step.key, ["footing"], target.value === "normal" ? null : target.value)),
            )
          }
        >
          <option value="">a state …</option>
          <option value="normal">the normal state</option>
          {tree.shown(ROOT, ["footings"]).map((one) => (
            <option key={one.key} value={refOf(one)}>
              {titleOf(one)}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="button" onClick={onRail}>
        Into a side rail
      </button>
      <button type="button" className="button" onClick={() => does("Copied", copies())}>
        Copy below
      </button>
      <button
        type="button"
        className="button"
        onClick={() => does(`${plural(keys.length, "rung")} taken out`, takenOut(tree, keys))}
      >
        Take out
      </button>
      <button type="button" className="button" data-tone="quiet" onClick={onDone}>
        Unmark
      </button>
    </section>
  );
};
