import { Slider } from "radix-ui";
import { type PointerEvent, useRef, useState } from "react";
import { titleOf } from "../draft/items";
import { newKey } from "../draft/keys";
import { type Item, ROOT } from "../draft/tree";
import { useEditing } from "../editing/fields/Editing";
import { set } from "../editing/fields/operations";
import { percent } from "../ui/format";
import { bordersOf, dragged, movedBorder, sharesOf } from "./shares";

const weightOf = (cause: Item) => (typeof cause.weight === "number" ? cause.weight : 1);
const SAME_RUN_MS = 5000;

/** How common each cause is, as one bar whose borders are dragged, or moved with the arrow keys. */
export const CauseBar = () => {
  const { draft, tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const run = useRef({ border: -1, at: 0, group: "" });
  const isPressed = useRef(false);
  /** How it stands while a border is dragged. */
  const [shown, setShown] = useState<{ border: number; weights: number[] }>();
  const kept = causes.map(weightOf);
  const weights = shown?.weights.length === kept.length ? shown.weights : kept;
  const shares = sharesOf(weights);
  const borders = bordersOf(shares);
  if (causes.length < 2) return null;

  const move = (next: readonly number[]) => {
    const moved = movedBorder(borders, next);
    if (moved && isPressed.current)
      setShown({ border: moved.border, weights: dragged(weights, moved.border, moved.by) });
  };
  const keep = (next: readonly number[]) => {
    const moved = movedBorder(borders, next);
    const border = moved?.border ?? shown?.border;
    setShown(undefined);
    if (border === undefined) return;
    const made = moved ? dragged(weights, border, moved.by) : weights;
    const operations = causes.flatMap(({ key }, n) =>
      made[n] === kept[n] ? [] : [set(tree, key, ["weight"], made[n] ?? 1)],
    );
    const now = Date.now();
    // A run of presses at one border is one deed to undo.
    if (run.current.border !== border || now - run.current.at > SAME_RUN_MS)
      run.current = { border, at: now, group: newKey() + newKey() };
    run.current.at = now;
    if (operations.length > 0) draft.do(operations, "Causes shared anew", run.current.group);
  };
  return (
    <Slider.Root
      className="relative my-2 flex h-9 touch-none select-none border border-rule"
      value={borders.map((share) => share * 100)}
      step={1}
      onValueChange={(next) => move(next.map((one) => one / 100))}
      onValueCommit={(next) => keep(next.map((one) => one / 100))}
      onPointerDown={(event) => {
        isPressed.current = onBorder(event);
        // A press between two borders moves none of them: it was aimed at neither.
        if (!isPressed.current) event.preventDefault();
      }}
      onPointerUp={() => {
        isPressed.current = false;
        setShown(undefined);
      }}
    >
      <Slider.Track className="flex h-full w-full overflow-hidden">
        {causes.map((cause, n) => (
          <div
            key={cause.key}
            className={`overflow-hidden whitespace-nowrap px-1 py-1.5 text-dense ${n % 2 ? "bg-well" : "bg-sheet"}`}
            style={{ width: `${(shares[n] ?? 0) * 100}%` }}
            title={`${titleOf(cause)}: ${percent(shares[n] ?? 0)}`}
          >
            {(shares[n] ?? 0) > 0.05 && percent(shares[n] ?? 0)}
            {(shares[n] ?? 0) > 0.16 && <span className="text-faint text-tiny"> {titleOf(cause)}</span>}
          </div>
        ))}
      </Slider.Track>
      {borders.map((_, n) => {
        const [left, right] = [causes[n], causes[n + 1]];
        return (
          <Slider.Thumb
            key={left?.key}
            aria-label={`Between ${titleOf(left)} and ${titleOf(right)}`}
            aria-valuetext={`${titleOf(left)} ${percent(shares[n] ?? 0)}, ${titleOf(right)} ${percent(shares[n + 1] ?? 0)}`}
            className="relative block h-9 w-0.5 cursor-col-resize bg-ink before:absolute before:-inset-x-1.5 before:inset-y-0"
          />
        );
      })}
    </Slider.Root>
  );
};

const onBorder = (event: PointerEvent): boolean => (event.target as Element).closest("[role=slider]") !== null;
