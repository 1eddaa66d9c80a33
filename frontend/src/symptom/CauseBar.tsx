import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { titleOf } from "../draft/items";
import { newKey } from "../draft/keys";
import { type Item, ROOT } from "../draft/tree";
import { useEditing } from "../editing/fields/Editing";
import { set } from "../editing/fields/operations";
import { percent } from "../ui/format";
import { dragged, sharesOf } from "./shares";

const weightOf = (cause: Item) => (typeof cause.weight === "number" ? cause.weight : 1);
const STEP = 0.01;
const SAME_RUN_MS = 5000;

/** How common each cause is, as one bar whose borders are dragged, or moved with the arrow keys. */
export const CauseBar = () => {
  const { draft, tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const bar = useRef<HTMLDivElement>(null);
  const run = useRef({ border: -1, at: 0, group: "" });
  const [drag, setDrag] = useState<{ border: number; from: number; by: number }>();
  const kept = causes.map(weightOf);
  const weights = drag ? dragged(kept, drag.border, drag.by) : kept;
  const shares = sharesOf(weights);
  if (causes.length < 2) return null;

  const keep = (next: readonly number[], group?: string) => {
    const operations = causes.flatMap(({ key }, n) =>
      next[n] === kept[n] ? [] : [set(tree, key, ["weight"], next[n] ?? 1)],
    );
    draft.do(operations, "Causes shared anew", group);
  };
  const shareAt = (event: PointerEvent) => {
    const box = bar.current?.getBoundingClientRect();
    return box ? (event.clientX - box.left) / box.width : 0;
  };
  const onKeyDown = (event: KeyboardEvent, border: number) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (!by) return;
    event.preventDefault();
    const now = Date.now();
    // A run of presses at one border is one deed to undo.
    if (run.current.border !== border || now - run.current.at > SAME_RUN_MS)
      run.current = { border, at: now, group: newKey() + newKey() };
    run.current.at = now;
    keep(dragged(kept, border, event.shiftKey ? by * 5 : by), run.current.group);
  };
  return (
    <div
      ref={bar}
      className="relative my-2 flex h-9 border border-rule"
      onPointerMove={(event) => drag && setDrag({ ...drag, by: shareAt(event) - drag.from })}
      onPointerUp={() => {
        if (drag) keep(weights);
        setDrag(undefined);
      }}
      onPointerCancel={() => setDrag(undefined)}
    >
      {causes.map((cause, n) => {
        const share = shares[n] ?? 0;
        const before = shares.slice(0, n + 1).reduce((all, one) => all + one, 0);
        return (
          <div key={cause.key} className="contents">
            <div
              className={`overflow-hidden whitespace-nowrap px-1 py-1.5 text-dense ${n % 2 ? "bg-well" : "bg-sheet"}`}
              style={{ width: `${share * 100}%` }}
              title={`${titleOf(cause)}: ${percent(share)}`}
            >
              {share > 0.05 && percent(share)}
              {share > 0.16 && <span className="text-faint text-tiny"> {titleOf(cause)}</span>}
            </div>
            {n < causes.length - 1 && (
              <div
                role="slider"
                tabIndex={0}
                aria-label={`Between ${titleOf(cause)} and ${titleOf(causes[n + 1] ?? cause)}`}
                aria-valuemin={0}
                aria-valuemax={100}
                aria-valuenow={Math.round(before * 100)}
                aria-valuetext={`${titleOf(cause)} ${percent(share)}, ${titleOf(causes[n + 1] ?? cause)} ${percent(shares[n + 1] ?? 0)}`}
                className="absolute inset-y-0 w-3 -translate-x-1/2 cursor-col-resize touch-none before:absolute before:inset-y-0 before:left-1/2 before:w-0.5 before:bg-ink"
                style={{ left: `${before * 100}%` }}
                onPointerDown={(event) => {
                  event.currentTarget.setPointerCapture(event.pointerId);
                  setDrag({ border: n, from: shareAt(event), by: 0 });
                }}
                onKeyDown={(event) => onKeyDown(event, n)}
              />
            )}
          </div>
        );
      })}
    </div>
  );
};
