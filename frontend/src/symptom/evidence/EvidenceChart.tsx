import type { RefObject } from "react";
import { isTested } from "../../api/meaning";
import type { EvidenceRow, StepEstimate } from "../../api/types";
import { count, percent } from "../../ui/format";
import { rateMark } from "../../ui/rateMark";
import { cameUp, nestedBar } from "./nested";
import { isSaid } from "./words";

interface EvidenceChartProps {
  drawing: RefObject<SVGSVGElement | null>;
  title: string;
  says: string;
  rows: EvidenceRow[];
  estimates: Map<string, StepEstimate>;
}

const ROW = 30;
const TOP = 64;
const AT = { label: 16, title: 48, bar: 330, axis: 560, first: 770, end: 900 };
const BAR = 200;
const AXIS = 190;

/** The whole table as one drawing, to be saved: told apart by shape as well, so that it can be printed in grey. */
export const EvidenceChart = ({ drawing, title, says, rows, estimates }: EvidenceChartProps) => {
  const most = Math.max(1, ...rows.map(({ counts }) => cameUp(counts)));
  const height = TOP + rows.length * ROW + 24;
  return (
    <svg ref={drawing} aria-hidden="true" viewBox={`0 0 ${AT.end} ${height}`} width={AT.end} height={height}>
      <text x={AT.label} y={22} className="fill-ink font-bold text-body">
        {title}
      </text>
      <text x={AT.label} y={40} className="fill-faint text-tiny">
        {says}
      </text>
      <text x={AT.bar} y={58} className="fill-faint text-tiny">
        came up, tried, resolved, held
      </text>
      <text x={AT.axis} y={58} className="fill-faint text-tiny">
        0 ○ raw ● if tried first 100 %
      </text>
      {rows.map((row, place) => (
        <ChartRow
          key={row.step}
          row={row}
          estimate={estimates.get(row.step)}
          most={most}
          y={TOP + place * ROW + ROW / 2}
        />
      ))}
    </svg>
  );
};

interface ChartRowProps {
  row: EvidenceRow;
  estimate: StepEstimate | undefined;
  most: number;
  y: number;
}

const ChartRow = ({ row, estimate, most, y }: ChartRowProps) => {
  const bar = nestedBar(row.counts, most, BAR);
  const raw = rateMark(row.counts.raw, AXIS);
  const first = rateMark(estimate?.first, AXIS);
  return (
    <g>
      <line x1={AT.label} x2={AT.end - 16} y1={y - ROW / 2} y2={y - ROW / 2} className="stroke-rule" />
      <text x={AT.label} y={y + 4} className="fill-faint text-tiny">
        {row.label ?? "–"}
      </text>
      <text x={AT.title} y={y + 4} className="fill-ink text-dense">
        {row.title ?? row.step}
      </text>
      <rect x={AT.bar} y={y - 9} width={bar.cameUp} height={18} className="fill-none stroke-rail" />
      <rect x={AT.bar} y={y - 6} width={bar.tried} height={12} className="fill-rail" />
      {bar.resolved > 0 && (
        <rect x={AT.bar} y={y - 4} width={bar.resolved} height={8} className="fill-moss stroke-paper" />
      )}
      <rect x={AT.bar} y={y - 1.5} width={bar.held} height={3} className="fill-ink" />
      {isTested(row.kind) && (
        <>
          <line x1={AT.axis} x2={AT.axis + AXIS} y1={y} y2={y} className="stroke-rule" />
          {raw && (
            <>
              <line x1={AT.axis + raw.low} x2={AT.axis + raw.high} y1={y - 6} y2={y - 6} className="stroke-ink" />
              <circle cx={AT.axis + raw.dot} cy={y - 6} r={3.5} className="fill-paper stroke-ink" strokeWidth={1.5} />
            </>
          )}
          {first && (
            <>
              <line
                x1={AT.axis + first.low}
                x2={AT.axis + first.high}
                y1={y + 6}
                y2={y + 6}
                className="stroke-plum"
                strokeWidth={3}
              />
              <circle cx={AT.axis + first.dot} cy={y + 6} r={4} className="fill-plum" />
            </>
          )}
          <text x={AT.first} y={y + 4} className="fill-ink text-tiny">
            {isSaid(row.counts.raw) && `${percent(row.counts.raw.mean)} of ${count(row.counts.tried)}`}
            {isSaid(estimate?.first) && `, first ${percent(estimate.first.mean)}`}
          </text>
        </>
      )}
    </g>
  );
};
