import { useSortable } from "@dnd-kit/react/sortable";
import { type KeyboardEvent, useEffect, useRef } from "react";
import { percent } from "../ui/format";
import { Effort, Notches } from "./marks";
import { RateAxis } from "./RateAxis";
import { inWords, type RungRowData } from "./rungs";

export const RATE_WIDTH = 150;
export const COLUMNS = "grid grid-cols-[3.25rem_minmax(0,1fr)_3rem_9.5rem_10.5rem] gap-x-3";
const EFFORT_WIDTH = 110;
const SLIDE = { duration: 180, easing: "ease-out", idle: true };
const BY: Record<string, number> = { ArrowUp: -1, ArrowDown: 1 };

interface RungRowProps {
  row: RungRowData;
  most: number;
  isChosen: boolean;
  /** Whether it holds the rung that somebody tried to move. */
  isHolding: boolean;
  isBroken: boolean;
  /** Set anew each time that this rung should take the keyboard. */
  focus: object | undefined;
  onChoose: (key: string) => void;
  /** Go to the rung that stands so many places off. */
  onStep: (index: number) => void;
  onMoveBy: (key: string, by: number) => void;
}

/** One rung of the ladder: what it is, its risk, its effort, and what the cases say of it. */
export const RungRow = (props: RungRowProps) => {
  const { row, most, isChosen, isHolding, isBroken, focus, onChoose, onStep, onMoveBy } = props;
  const { step, rung, judged, evidence, index, key } = row;
  const button = useRef<HTMLButtonElement>(null);
  const { ref, handleRef, isDragging } = useSortable({ id: key, index, transition: isStill() ? null : SLIDE });

  useEffect(() => {
    if (focus) button.current?.focus();
  }, [focus]);

  const onKeyDown = (event: KeyboardEvent) => {
    const by = BY[event.key];
    if (!by || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    if (event.altKey) onMoveBy(key, by);
    else onStep(index + by);
  };

  return (
    <li
      ref={ref}
      data-chosen={isChosen || undefined}
      data-holding={isHolding || undefined}
      data-dragging={isDragging || undefined}
      className={`${COLUMNS} group h-rung items-center border-rule border-b pr-2 data-[chosen]:bg-sheet data-[dragging]:bg-sheet data-[holding]:outline-2 data-[holding]:outline-brass data-[chosen]:shadow-[inset_3px_0_0_var(--color-brass)]`}
    >
      <span className="flex items-center">
        <button
          ref={handleRef}
          type="button"
          aria-label={`Move ${step.title}`}
          onKeyDown={onKeyDown}
          className="flex h-10 w-5 cursor-grab items-center justify-center text-faint opacity-60 group-hover:opacity-100"
        >
          <Grip />
        </button>
        <span className="w-7 text-right text-faint">{index + 1}</span>
      </span>
      <span className="min-w-0">
        <button
          ref={button}
          type="button"
          aria-current={isChosen || undefined}
          aria-describedby={`${key}-words`}
          data-rung={key}
          className="block max-w-full truncate text-left font-semibold"
          onClick={() => onChoose(key)}
          onFocus={() => onChoose(key)}
          onKeyDown={onKeyDown}
        >
          {step.title}
        </button>
        <span className="block truncate text-dense text-faint">
          {isBroken && <span className="font-semibold text-clay">Stands the wrong way round · </span>}
          {[step.kind !== "fix" && step.kind, rung.when, rung.note].filter(Boolean).join(" · ")}
        </span>
        <span id={`${key}-words`} className="sr-only">
          {inWords(row)}
        </span>
      </span>
      <Notches grade={judged.eased} />
      <Effort judged={judged} most={most} width={EFFORT_WIDTH} />
      <span>
        {step.kind === "fix" || step.kind === "workaround" ? (
          <>
            <RateAxis rate={evidence?.raw} width={RATE_WIDTH} />
            <span className="block text-tiny text-faint">
              {evidence?.raw.mean != null
                ? `${evidence.resolved} of ${evidence.tried} tried, ${percent(evidence.raw.mean)}`
                : "no case has tried it yet"}
            </span>
          </>
        ) : (
          <span className="text-tiny text-faint">{carriedOut(evidence)}</span>
        )}
      </span>
    </li>
  );
};

function carriedOut(evidence: RungRowData["evidence"]): string {
  const times = (evidence?.found ?? 0) + (evidence?.done ?? 0);
  return times ? `carried out ${times} times` : "not carried out yet";
}

const isStill = () => window.matchMedia("(prefers-reduced-motion: reduce)").matches;

const Grip = () => (
  <svg aria-hidden="true" width={10} height={14}>
    <line x1={0} x2={10} y1={4} y2={4} className="stroke-current" strokeWidth={1.5} />
    <line x1={0} x2={10} y1={10} y2={10} className="stroke-current" strokeWidth={1.5} />
  </svg>
);
