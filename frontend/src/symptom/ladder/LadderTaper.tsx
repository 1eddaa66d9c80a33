import { isTested } from "../../api/meaning";
import type { EditionView, Forecast } from "../../api/types";
import { percent } from "../../ui/format";
import { inRem, ROW_REM } from "../../ui/rem";
import { arrivingRungs, leftAtFoot, taperRungs } from "../../ui/taper/ladderTaper";
import { notches, type RungLine, type SideLine, type Tab, type TaperRung, taper } from "../../ui/taper/taper";
import { useIsWide } from "../../ui/useWidth";
import type { Block } from "./rungs";

interface LadderTaperProps {
  blocks: Block[];
  forecast: Forecast;
  /** The newest edition, drawn as an outline behind a draft that differs from it. */
  edition: EditionView | undefined;
  chosen: string | undefined;
  /** Share of cases that comes to each rung of another order, drawn as an outline over the ladder. */
  preview: readonly number[] | undefined;
  /** Its figures are of the state before: it narrows anew when they come, not twice. */
  isBehind: boolean;
  box: RowsBox;
}

/** How much room the taper has: as wide as the window lets it, its rows as high as those beside it. */
export interface RowsBox {
  outer: number;
  width: number;
  middle: number;
  row: number;
}

export function useTaperBox(): RowsBox {
  const isWide = useIsWide("80rem");
  const sizes = isWide ? { outer: 232, width: 150, middle: 96 } : { outer: 152, width: 92, middle: 62 };
  return { ...sizes, row: inRem(ROW_REM) };
}

/** The taper at full size: each rung as wide as its reach, notches cut into the rail, tabs for what leaves. */
export const LadderTaper = ({ blocks, forecast, edition, chosen, preview, isBehind, box }: LadderTaperProps) => {
  const paths = blocks.flatMap((block) => [block.row.path, ...block.side.map(({ row }) => row.path)]);
  const folded = new Set(blocks.filter(({ isFolded }) => isFolded).map(({ row }) => row.path));
  const rungs = taperRungs(forecast, paths, folded);
  const drawing = taper(rungs, leftAtFoot(forecast), box);
  return (
    <svg
      aria-hidden="true"
      width={box.outer}
      height={drawing.height}
      data-behind={isBehind || undefined}
      className="block shrink-0 max-md:hidden"
    >
      <path d={drawing.body} style={{ d: `path("${drawing.body}")` }} className="narrowing fill-well" />
      {edition && <Ghost edition={edition} height={drawing.height} box={box} />}
      {[drawing.leftRail, drawing.rightRail].map((rail, side) => (
        <path
          key={side === 0 ? "left" : "right"}
          d={rail}
          style={{ d: `path("${rail}")` }}
          className="narrowing fill-none stroke-rail"
          strokeWidth={2.5}
        />
      ))}
      {preview && <Preview rungs={arrivingRungs(preview, rungs)} left={leftAtFoot(forecast)} box={box} />}
      {blocks.map((block, index) => {
        const rung = drawing.rungs[index];
        return rung && <BlockOnTaper key={block.key} block={block} rung={rung} chosen={chosen} middle={box.middle} />;
      })}
    </svg>
  );
};

interface BlockOnTaperProps {
  block: Block;
  rung: RungLine;
  chosen: string | undefined;
  /** Where the share stands, across. */
  middle: number;
}

const BlockOnTaper = ({ block, rung, chosen, middle }: BlockOnTaperProps) => {
  const { step, judged, figures } = block;
  return (
    <g className="narrowing" style={{ transform: `translateY(${rung.y}px)` }}>
      <line
        x1={rung.left}
        x2={rung.right}
        y1={0}
        y2={0}
        className={block.key === chosen ? "stroke-brass" : "stroke-rail"}
        strokeWidth={isTested(step.kind) ? 4 : 3}
        strokeDasharray={step.kind === "check" ? "3 3" : undefined}
      />
      {notches(block.isFolded ? 0 : (judged?.eased ?? 0), 0, 6).map((y) => (
        <line
          key={y}
          x1={rung.railLeft - 6}
          x2={rung.railLeft + 3}
          y1={y}
          y2={y}
          className="stroke-clay"
          strokeWidth={3}
        />
      ))}
      {!block.isFolded && (
        <text x={middle} y={-6} textAnchor="middle" className="fill-faint text-tiny">
          {figures && percent(figures.reach)}
        </text>
      )}
      <Leaves tab={rung.tab} y={5} isHollow={step.kind === "workaround"} />
      {rung.off.width > 0 && (
        <rect
          x={rung.off.x - 2}
          y={6}
          width={Math.max(rung.off.width, 2)}
          height={10}
          className="fill-paper stroke-clay"
          strokeWidth={1.5}
        />
      )}
      {block.side.map((side, index) => {
        const line = rung.side[index];
        return (
          side.step &&
          line && (
            <SideOnTaper
              key={side.key}
              line={line}
              top={rung.y}
              isChosen={side.key === chosen}
              isHollow={side.step.kind === "workaround"}
            />
          )
        );
      })}
    </g>
  );
};

interface SideOnTaperProps {
  line: SideLine;
  top: number;
  isChosen: boolean;
  isHollow: boolean;
}

const SideOnTaper = ({ line, top, isChosen, isHollow }: SideOnTaperProps) => (
  <>
    <line
      x1={line.left}
      x2={line.right}
      y1={line.y - top}
      y2={line.y - top}
      className={isChosen ? "stroke-brass" : "stroke-rail"}
      strokeWidth={3}
    />
    <Leaves tab={line.tab} y={line.y - top + 4} isHollow={isHollow} />
  </>
);

/** What is resolved leaves sideways; what is only worked around leaves as a hollow tab. */
const Leaves = ({ tab, y, isHollow }: { tab: Tab; y: number; isHollow: boolean }) =>
  tab.width > 0 && (
    <path
      d={`M${tab.x + 2},${y} h${Math.max(tab.width, 2)} v11 h${-Math.max(tab.width, 2)} z`}
      className={isHollow ? "fill-paper stroke-moss" : "fill-moss stroke-moss"}
      strokeWidth={1.5}
    />
  );

/** Another order's outline, row by row beside the rungs as they stand. */
const Preview = ({ rungs, left, box }: { rungs: TaperRung[]; left: number; box: RowsBox }) => {
  const drawing = taper(rungs, left, box);
  return [drawing.leftRail, drawing.rightRail].map((rail) => (
    <path key={rail} d={rail} className="fill-none stroke-ink" strokeWidth={1.5} strokeDasharray="6 3" />
  ));
};

/** The edition's outline; only where it has as many rows, for else its rungs would not stand beside the draft's. */
const Ghost = ({ edition, height, box }: { edition: EditionView; height: number; box: RowsBox }) => {
  const { forecast } = edition;
  const paths = forecast.side.map(({ path }) => path);
  const drawing = taper(taperRungs(forecast, paths), leftAtFoot(forecast), box);
  if (drawing.height !== height) return null;
  return (
    <>
      {[drawing.leftRail, drawing.rightRail].map((rail) => (
        <path key={rail} d={rail} className="fill-none stroke-faint" strokeWidth={1} strokeDasharray="2 4" />
      ))}
    </>
  );
};
