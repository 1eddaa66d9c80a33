import type { EditionView, Forecast } from "../api/types";
import { rungsOf } from "../taper/ladderTaper";
import { notches, taper } from "../taper/taper";
import { percent } from "../ui/format";
import type { RungRowData } from "./rungs";

interface LadderTaperProps {
  rows: RungRowData[];
  forecast: Forecast;
  /** The newest edition, drawn as an outline behind a draft that differs from it. */
  edition: EditionView | undefined;
  chosen: string | undefined;
}

export const TAPER_WIDTH = 232;
const ROW = 48;
const BOX = { width: 150, row: ROW, middle: 96 };

/** The taper at full size: each rung as wide as its reach, notches cut into the rail, tabs for what is resolved. */
export const LadderTaper = ({ rows, forecast, edition, chosen }: LadderTaperProps) => {
  const left = forecast.handed_off + forecast.sent_on;
  const drawing = taper(rungsOf(forecast), left, BOX);
  return (
    <svg aria-hidden="true" width={TAPER_WIDTH} height={drawing.height} className="block shrink-0">
      <path d={drawing.body} style={{ d: `path("${drawing.body}")` }} className="narrowing fill-well" />
      {edition && <Ghost edition={edition} />}
      {[drawing.leftRail, drawing.rightRail].map((rail, side) => (
        <path
          key={side}
          d={rail}
          style={{ d: `path("${rail}")` }}
          className="narrowing fill-none stroke-rail"
          strokeWidth={2.5}
        />
      ))}
      {rows.map((row, index) => {
        const rung = drawing.rungs[index];
        return rung && <RungOnTaper key={row.key} row={row} rung={rung} isChosen={row.key === chosen} />;
      })}
    </svg>
  );
};

interface RungOnTaperProps {
  row: RungRowData;
  rung: ReturnType<typeof taper>["rungs"][number];
  isChosen: boolean;
}

const RungOnTaper = ({ row, rung, isChosen }: RungOnTaperProps) => {
  const { step, judged, figures } = row;
  const isTested = step.kind === "fix" || step.kind === "workaround";
  return (
    <g className="narrowing" style={{ transform: `translateY(${rung.y}px)` }}>
      <line
        x1={rung.left}
        x2={rung.right}
        y1={0}
        y2={0}
        className={isChosen ? "stroke-brass" : "stroke-rail"}
        strokeWidth={isTested ? 4 : 3}
        strokeDasharray={step.kind === "check" ? "3 3" : undefined}
      />
      {notches(judged.eased, 0, 6).map((y) => (
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
      <text x={BOX.middle} y={-6} textAnchor="middle" className="fill-faint text-tiny">
        {percent(figures.reach)}
      </text>
      {rung.tabWidth > 0 && (
        <path
          d={`M${rung.tabX + 2},5 h${Math.max(rung.tabWidth, 2)} v11 h${-Math.max(rung.tabWidth, 2)} z`}
          className={step.kind === "workaround" ? "fill-paper stroke-moss" : "fill-moss stroke-moss"}
          strokeWidth={1.5}
        />
      )}
    </g>
  );
};

const Ghost = ({ edition }: { edition: EditionView }) => {
  const { forecast } = edition;
  const drawing = taper(rungsOf(forecast), forecast.handed_off + forecast.sent_on, BOX);
  return (
    <>
      {[drawing.leftRail, drawing.rightRail].map((rail) => (
        <path key={rail} d={rail} className="fill-none stroke-faint" strokeWidth={1} strokeDasharray="2 4" />
      ))}
    </>
  );
};
