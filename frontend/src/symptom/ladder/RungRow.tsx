import { useSortable } from "@dnd-kit/react/sortable";
import { type KeyboardEvent, memo, type ReactNode, useEffect, useRef } from "react";
import { isTested } from "../../api/meaning";
import type { Step } from "../../api/types";
import { TextField } from "../../editing/fields/Field";
import { count, percent, plural } from "../../ui/format";
import { rungKey } from "../../ui/keys";
import { isStill, SLIDE } from "../../ui/motion";
import { RateAxis } from "../../ui/RateAxis";
import type { Level } from "../review/words";
import type { Bracket } from "./brackets";
import { Effort, Notches } from "./marks";
import { RailDrop } from "./RailDrop";
import { type RowActs, useRow, useRowActs } from "./rowStore";
import { type Block, type RailEnd, type RungRowData, rungInWords } from "./rungs";

export const RATE_WIDTH = 150;
export const RUNG_COLUMNS =
  "grid grid-cols-[4.25rem_minmax(0,1fr)_3rem] gap-x-3 md:grid-cols-[4.25rem_minmax(0,1fr)_3rem_7.25rem] xl:grid-cols-[4.25rem_minmax(0,1fr)_3rem_9.5rem_10.5rem]";
const EFFORT_WIDTH = 110;
/** A row out of sight is not drawn: a ladder of a hundred rungs costs a key in the text beside it no more than the rows
 * that are seen. Review's mark stands partly outside of it. */
const UNSEEN = "[content-visibility:auto] [overflow-clip-margin:0.75rem]";
/** One line below the title, or a second line of it: never half a line. */
const TWO_LINES = "block max-h-[2.3rem] overflow-hidden";
const BY: Record<string, number> = { ArrowUp: -1, ArrowDown: 1 };

/** One rung of the main line, with the side rails that hang on it and move with it. */
export const BlockRow = memo(({ block, most }: { block: Block; most: number }) => {
  const transition = isStill() ? null : SLIDE;
  const { ref, handleRef, isDragging } = useSortable({ id: block.key, index: block.index, transition });
  const { isHolding } = useRow(block.key);
  const acts = useRowActs();
  const handle = (
    <button
      ref={handleRef}
      type="button"
      aria-label={`Move ${block.step.title}`}
      tabIndex={-1}
      onKeyDown={(event) => onKey(event, block.key, acts)}
      className="flex h-10 w-5 cursor-grab items-center justify-center text-rail group-hover:text-faint group-data-folded:h-5"
    >
      <Grip />
    </button>
  );
  return (
    <li
      ref={ref}
      data-holding={isHolding || undefined}
      data-dragging={isDragging || undefined}
      style={{ containIntrinsicBlockSize: heightOf(block) }}
      className={`${UNSEEN} data-[dragging]:bg-sheet data-[holding]:outline-2 data-[holding]:outline-brass`}
    >
      <RungLine
        rung={block}
        most={most}
        handle={handle}
        isFolded={block.isFolded}
        drop={<RailDrop host={block.key} />}
      />
      {block.side.length > 0 && (
        <ol aria-label={`Side rails of ${block.step.title}`}>
          {block.side.map((side) => (
            <li key={side.key}>{side.step ? <RungLine rung={side} most={most} /> : <RailEndLine end={side} />}</li>
          ))}
        </ol>
      )}
    </li>
  );
});

/** How high a rung stands with its side rails, for the browser to know before it draws them. */
const heightOf = ({ isFolded, side }: Block): string =>
  `calc(${(isFolded ? 0.5 : 1) + side.length} * var(--spacing-rung))`;

function onKey(event: KeyboardEvent, key: string, acts: RowActs): void {
  const name = rungKey(event);
  if (!name) return;
  event.preventDefault();
  const by = BY[event.key];
  if (name === "move-rung" && by) acts.moveBy(key, by);
  else if (name === "next-rung" && by) acts.step(key, by);
  else if (!event.repeat) acts.act(key, name);
}

interface RungLineProps {
  rung: RungRowData;
  /** The longest effort of the ladder, minutes. */
  most: number;
  handle?: ReactNode;
  /** Where another rung is put down to hang on this one. */
  drop?: ReactNode;
  /** No unit that is looked at comes to it: one thin line. */
  isFolded?: boolean;
}

/** A rung's row: what it is, its risk, its effort, and what the cases say of it. */
const RungLine = ({ rung, most, handle, drop, isFolded }: RungLineProps) => {
  const { key, row, step, judged, evidence, first } = rung;
  const { level, footing, trial, isChosen, isEditing, isPicked } = useRow(key);
  const acts = useRowActs();
  return (
    <div
      data-chosen={isChosen || undefined}
      data-picked={isPicked || undefined}
      data-folded={isFolded || undefined}
      className={`${RUNG_COLUMNS} ${UNSEEN} group relative h-rung items-center border-rule border-b pr-2 data-folded:h-[calc(var(--spacing-rung)/2)] data-folded:overflow-hidden data-folded:text-faint data-folded:text-dense data-[chosen]:bg-sheet data-[chosen]:shadow-[inset_3px_0_0_var(--color-brass)] data-[picked]:bg-well has-[[data-rung]:focus-visible]:outline-2 has-[[data-rung]:focus-visible]:-outline-offset-2 has-[[data-rung]:focus-visible]:outline-slate`}
    >
      {drop}
      <span className="flex items-center">
        <Mark level={level} />
        {handle ?? <span className="w-5" />}
        <span className="w-7 text-right text-faint">{row.label}</span>
        <BracketMark part={footing} className="border-slate" />
        <BracketMark part={trial} className="border-plum border-dashed" />
      </span>
      <span className="min-w-0" style={{ paddingLeft: `${row.depth * 1.1}rem` }}>
        {row.via && <Via>{row.via}</Via>}
        {isEditing && <RowTitle rung={rung} onLeave={(isBack) => acts.titled(key, isBack)} />}
        <span hidden={isEditing} className={row.via ? "block max-h-[2.1rem] overflow-hidden" : TWO_LINES}>
          <button
            type="button"
            aria-current={isChosen || undefined}
            aria-describedby={`${key}-words`}
            data-rung={key}
            tabIndex={isChosen ? 0 : -1}
            title={step.title}
            className={`block max-w-full text-left font-semibold outline-none group-data-folded:truncate group-data-folded:font-normal ${row.via ? "leading-[1.05rem]" : "leading-[1.15rem]"} line-clamp-2`}
            onClick={() => acts.choose(key)}
            onFocus={() => acts.choose(key)}
            onKeyDown={(event) => onKey(event, key, acts)}
            onDoubleClick={() => acts.act(key, "edit-rung")}
          >
            {step.title}
          </button>
          {!row.via && !isFolded && <Below rung={rung} />}
        </span>
        <span id={`${key}-words`} className="sr-only">
          {rungInWords(rung)}
        </span>
      </span>
      {isFolded ? (
        <span className="col-[3/-1] truncate text-tiny">no such unit comes to it</span>
      ) : (
        <>
          {judged ? <Notches grade={judged.eased} /> : <span />}
          <span className="max-md:hidden">{judged && <Effort judged={judged} most={most} width={EFFORT_WIDTH} />}</span>
          <span className="max-xl:hidden">
            <Measured kind={step.kind} evidence={evidence} first={first} />
          </span>
        </>
      )}
    </div>
  );
};

/** The title, typed in its row: Enter or Escape gives the keyboard back to the rung; whoever goes elsewhere is left
 * there. */
const RowTitle = ({ rung, onLeave }: { rung: RungRowData; onLeave: (isBack: boolean) => void }) => {
  const field = useRef<HTMLSpanElement>(null);
  useEffect(() => field.current?.querySelector("input")?.select(), []);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: it hears that the field within was left
    <span ref={field} onBlur={() => onLeave(false)}>
      <TextField
        item={rung.item.key}
        path={["title"]}
        label={`title of rung ${rung.row.label}`}
        isPlain
        onKeyDown={(event) => {
          if ((event.key !== "Enter" && event.key !== "Escape") || event.nativeEvent.isComposing) return;
          event.preventDefault();
          onLeave(true);
        }}
      />
    </span>
  );
};

/** The second line: what kind of step, where, on which footing, why. */
const Below = ({ rung: { row, step } }: { rung: RungRowData }) => {
  const plain = [step.kind !== "fix" && step.kind, row.when, row.varies.length > 0 && "differs by unit", row.note];
  const more = plain.filter(Boolean).join(" · ");
  return (
    <span className="block truncate text-dense text-faint">
      {row.footing && <span className="text-slate">{row.footing}</span>}
      {row.footing && row.trial && " · "}
      {row.trial && <span className="text-plum">tested together</span>}
      {(row.footing || row.trial) && more ? ` · ${more}` : more}
    </span>
  );
};

const MARKS: Record<Level, { sign: string; tone: string }> = {
  blocker: { sign: "!", tone: "bg-clay text-paper" },
  warning: { sign: "?", tone: "border border-brass text-brass" },
  hint: { sign: "", tone: "" },
};

/** Review's mark in the margin of a row. */
const Mark = ({ level }: { level: Level | undefined }) =>
  level && (
    <span
      role="img"
      aria-label={`Review: ${level}`}
      className={`absolute left-0 flex size-4 -translate-x-3/4 items-center justify-center font-bold text-tiny ${MARKS[level].tone}`}
    >
      {MARKS[level].sign}
    </span>
  );

const Via = ({ children }: { children: string }) => (
  <span className="block truncate text-brass text-tiny leading-none">
    <span aria-hidden="true">└ </span>
    {children}
  </span>
);

const ENDS: Record<string, string> = {
  again: "then the step once more",
  "hand-off": "handed off to",
  playbook: "goes on in",
};

/** What a rail ends in, in words. */
const RailEndLine = ({ end: { row } }: { end: RailEnd }) => (
  <div className={`${RUNG_COLUMNS} ${UNSEEN} h-rung items-center border-rule border-b pr-2`}>
    <span className="flex">
      <span className="w-12 text-right text-faint">{row.label}</span>
    </span>
    <span className="min-w-0 text-dense" style={{ paddingLeft: `${row.depth * 1.1}rem` }}>
      {row.via && <Via>{row.via}</Via>}
      <span className="text-faint">{ENDS[row.kind]}</span> {row.kind !== "again" && row.says}
    </span>
  </div>
);

const SHAPES: Record<Bracket, string> = {
  alone: "top-1.5 bottom-1.5 border-y",
  first: "top-1.5 bottom-0 border-t",
  middle: "inset-y-0",
  last: "top-0 bottom-1.5 border-b",
};

/** One row's part of a bracket down the side. */
const BracketMark = ({ part, className }: { part: Bracket | undefined; className: string }) => (
  <span aria-hidden="true" className="relative ml-0.5 h-rung w-1.5 group-data-folded:h-5">
    {part && <span className={`absolute inset-x-0 border-l-2 ${SHAPES[part]} ${className}`} />}
  </span>
);

interface MeasuredProps {
  kind: Step["kind"];
  evidence: RungRowData["evidence"];
  first: RungRowData["first"];
}

const Measured = ({ kind, evidence, first }: MeasuredProps) => (
  <span>
    {isTested(kind) ? (
      <>
        <RateAxis rate={evidence?.raw} estimate={first} width={RATE_WIDTH} />
        <span className="block text-tiny text-faint">
          {evidence?.raw.mean != null
            ? `${count(evidence.resolved)} of ${count(evidence.tried)}, ${percent(evidence.raw.mean)}`
            : "no case has tried it yet"}
          {first?.mean != null && <span className="text-plum"> · first {percent(first.mean)}</span>}
        </span>
      </>
    ) : (
      <span className="text-tiny text-faint">{carriedOut(evidence)}</span>
    )}
  </span>
);

function carriedOut(evidence: RungRowData["evidence"]): string {
  const times = (evidence?.found ?? 0) + (evidence?.done ?? 0);
  return times ? `carried out ${plural(times, "time")}` : "not carried out yet";
}

const Grip = () => (
  <svg aria-hidden="true" width={10} height={14}>
    <line x1={0} x2={10} y1={4} y2={4} className="stroke-current" strokeWidth={1.5} />
    <line x1={0} x2={10} y1={10} y2={10} className="stroke-current" strokeWidth={1.5} />
  </svg>
);
