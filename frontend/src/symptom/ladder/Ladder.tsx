import { Accessibility, type DragEndEvent } from "@dnd-kit/dom";
import { DragDropProvider } from "@dnd-kit/react";
import { isSortable } from "@dnd-kit/react/sortable";
import { Fragment, type ReactNode, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { DraftView, RowView } from "../../api/types";
import { moveFocus } from "../../ui/focus";
import { percent } from "../../ui/format";
import type { KeyName } from "../../ui/keys";
import { MarksKey } from "../../ui/MarksKey";
import { useSliding } from "../../ui/motion";
import { leftAtFoot } from "../../ui/taper/ladderTaper";
import { useLatest } from "../../ui/useLatest";
import type { Level } from "../review/words";
import { longest } from "./bars";
import { rowBrackets } from "./brackets";
import { LadderTaper, useTaperBox } from "./LadderTaper";
import { railHost } from "./RailDrop";
import type { Refusal } from "./RefusalBar";
import { BlockRow, RATE_WIDTH, RUNG_COLUMNS } from "./RungRow";
import { type RowActs, type RowState, RowStore, RowsPlace } from "./rowStore";
import { type Block, keysInOrder, type RailEnd } from "./rungs";
import { TAPER_MARKS } from "./taperMarks";

interface LadderProps {
  view: DraftView;
  blocks: Block[];
  /** The gravest thing that review, or a flaw, has to say of each row. */
  marked: Map<string, Level>;
  chosen: string;
  holders: string[];
  refused: Refusal | undefined;
  /** Another order, pointed at: its outline lies over the ladder. */
  preview: readonly number[] | undefined;
  onChoose: (key: string) => void;
  onMoveBy: (key: string, by: number) => void;
  onDrop: (key: string, target: number) => void;
  onDropOnRail: (key: string, host: string) => void;
  onAct: (key: string, act: KeyName) => void;
  onTitled: (key: string, isBack: boolean) => void;
  editing: string | undefined;
  picked: ReadonlySet<string>;
  /** The rung below which a new one is typed, and what stands there meanwhile. */
  adding: { below: string; line: ReactNode } | undefined;
  /** What stands below the last rung. */
  foot: ReactNode;
}

/** A line that is typed has the height of two rungs, so that the taper stays beside its rows. */
const ROOM: RailEnd[] = [0, 1].map((number) => ({
  key: `room-${number}`,
  row: { path: "", kind: "again" } as RowView,
}));

/** The taper with its rungs beside it, row by row. */
export const Ladder = (props: LadderProps) => {
  const { view, blocks, chosen, refused, preview, onChoose, onMoveBy, onDrop, adding } = props;
  const drawn = useMemo(
    () => blocks.map((block) => (holds(block, adding?.below) ? { ...block, side: [...block.side, ...ROOM] } : block)),
    [blocks, adding?.below],
  );
  const box = useTaperBox();
  const refusals = useCountOf(refused);
  // Put down on a rail, it is not where the drag has left it: the list begins anew.
  const [railed, setRailed] = useState(0);
  const most = longest(view.rows.flatMap((row) => (row.judged ? [row.judged] : [])));
  const order = keysInOrder(blocks);
  const foot = footInWords(view);
  const list = useRef<HTMLOListElement>(null);
  const sliding = useSliding(
    list,
    blocks.map((block) => block.key),
  );

  const onDragEnd = ({ operation, canceled }: DragEndEvent) => {
    const { source, target } = operation;
    const host = railHost(target?.id);
    if (canceled || !source) return;
    if (host !== undefined) {
      setRailed((before) => before + 1);
      props.onDropOnRail(String(source.id), host);
      return;
    }
    if (!isSortable(source) || source.index === source.initialIndex) return;
    sliding.rest();
    onDrop(String(source.id), source.index);
  };
  const stepFrom = useLatest((from: string, by: number) => {
    const key = order[order.indexOf(from) + by];
    if (key) moveFocus({ rung: key });
  });
  const acts: RowActs = {
    choose: useLatest(onChoose),
    step: stepFrom,
    // A move that a rule holds draws the list anew: the keyboard stays with its rung.
    moveBy: useLatest((key: string, by: number) => {
      moveFocus({ rung: key });
      onMoveBy(key, by);
    }),
    act: useLatest(props.onAct),
    titled: useLatest(props.onTitled),
  };
  const states = rowStates(view.rows, props);
  const [rows] = useState(() => ({ store: new RowStore(states), acts }));
  useLayoutEffect(() => rows.store.take(states));

  return (
    <section
      aria-label="Ladder"
      className="isolate min-w-0 flex-1 overflow-auto pl-6 max-md:pl-4 low:flex-none low:overflow-visible"
    >
      <div className="md:min-w-[36rem] xl:min-w-[46rem]">
        <div className="flex text-dense text-faint">
          <p className="py-1.5 max-md:hidden" style={{ width: box.outer }}>
            <span className="max-xl:hidden">share of cases · </span>
            <MarksKey of="the ladder" marks={TAPER_MARKS} />
          </p>
          <div className={`${RUNG_COLUMNS} flex-1 py-1.5 pr-2`}>
            <span />
            <span>step</span>
            <span>harm</span>
            <span className="max-md:hidden">effort, minutes</span>
            <span className="max-xl:hidden" style={{ width: RATE_WIDTH }}>
              resolved, of tried
            </span>
          </div>
        </div>
        <div className="flex border-rule border-t">
          <LadderTaper
            blocks={drawn}
            forecast={view.forecast}
            edition={view.is_published || Object.keys(view.unit).length > 0 ? undefined : (view.published ?? undefined)}
            chosen={chosen}
            preview={preview}
            isBehind={view.isBehind}
            box={box}
          />
          <DragDropProvider
            key={`${refusals} ${railed}`}
            onDragEnd={onDragEnd}
            plugins={(plugins) => [...plugins, spokenDrag(blocks)]}
          >
            <RowsPlace value={rows}>
              <ol ref={list} className="min-w-0 flex-1">
                {blocks.map((block) => (
                  <Fragment key={block.key}>
                    <BlockRow block={block} most={most} />
                    {adding && holds(block, adding.below) && (
                      <li className="h-[calc(2*var(--spacing-rung))] overflow-auto border-rule border-b bg-sheet py-1 pr-3 pl-16">
                        {adding.line}
                      </li>
                    )}
                  </Fragment>
                ))}
              </ol>
            </RowsPlace>
          </DragDropProvider>
        </div>
        <div className="pl-16 md:pl-[19rem] max-md:pl-0">{props.foot}</div>
        <p
          className="py-2 text-clay md:text-center"
          hidden={blocks.length === 0}
          style={{ minWidth: 2 * box.middle, width: "fit-content" }}
        >
          {foot}
        </p>
      </div>
    </section>
  );
};

/** How each row stands beside its rung, by key. */
function rowStates(rows: readonly RowView[], of: LadderProps): Map<string, RowState> {
  const brackets = rowBrackets(rows);
  return new Map(
    rows.map(({ key }) => [
      key,
      {
        ...brackets.get(key),
        level: of.marked.get(key),
        isChosen: of.chosen === key,
        isEditing: of.editing === key,
        isPicked: of.picked.has(key),
        isHolding: of.holders.includes(key),
      },
    ]),
  );
}

const holds = (block: Block, key: string | undefined): boolean =>
  key !== undefined && (block.key === key || block.side.some((side) => side.key === key));

/** How many different things it has been: a new key for the list makes a refused drop go back to its place. */
function useCountOf(thing: unknown): number {
  const [seen, setSeen] = useState({ thing, count: 0 });
  if (seen.thing === thing) return seen.count;
  const next = { thing, count: thing === undefined ? seen.count : seen.count + 1 };
  setSeen(next);
  return next.count;
}

function footInWords({ forecast, playbook }: DraftView): string {
  const team = playbook.hand_offs?.find((handOff) => handOff.default) ?? playbook.hand_offs?.[0];
  return `${percent(leftAtFoot(forecast))} handed to ${team ? team.title : "somebody else"}`;
}

function spokenDrag(rows: Block[]) {
  const title = (id: unknown) => rows.find((row) => row.key === id)?.step.title ?? "the rung";
  const place = (source: unknown) =>
    isSortable(source as never) ? `rung ${(source as { index: number }).index + 1} of ${rows.length}` : "";
  return Accessibility.configure({
    announcements: {
      dragstart: ({ operation }: DragEndEvent) => `Picked up ${title(operation.source?.id)}`,
      dragover: ({ operation }: DragEndEvent) => `${title(operation.source?.id)}, ${place(operation.source)}`,
      dragend: ({ operation, canceled }: DragEndEvent) =>
        canceled ? "Put back where it was" : `Put down at ${place(operation.source)}`,
    },
    screenReaderInstructions: {
      draggable:
        "Press space to pick the rung up, the arrow keys to move it, space to put it down, escape to leave it. Or press Alt and an arrow key at any time.",
    },
  });
}
