import type { Rate, StepEstimate } from "../../api/types";
import { percent } from "../../ui/format";
import { pairMark } from "./axis";
import { isSaid } from "./words";

interface PairAxisProps {
  raw: Rate;
  estimate: StepEstimate | undefined;
  width: number;
}

const HIGH = 34;
const RAW = 10;
const FIRST = 24;

/** On one axis: the raw rate as an open dot above, the chance if tried first as a full one below, joined. */
export const PairAxis = ({ raw, estimate, width }: PairAxisProps) => {
  const mark = pairMark(raw, estimate, width);
  return (
    <svg aria-hidden="true" width={width + 14} height={HIGH} viewBox={`-7 0 ${width + 14} ${HIGH}`} className="block">
      <line x1={0} x2={width} y1={HIGH / 2} y2={HIGH / 2} className="stroke-rule" />
      {mark.raw && mark.first && (
        <line
          x1={mark.raw.dot}
          x2={mark.first.dot}
          y1={RAW}
          y2={FIRST}
          className="stroke-faint"
          strokeDasharray="2 3"
        />
      )}
      {mark.raw && (
        <>
          <line x1={mark.raw.low} x2={mark.raw.high} y1={RAW} y2={RAW} className="stroke-ink" strokeWidth={1.5} />
          <circle cx={mark.raw.dot} cy={RAW} r={3.5} className="fill-paper stroke-ink" strokeWidth={1.6} />
        </>
      )}
      {mark.first && (
        <>
          {mark.isJudged ? (
            <rect
              x={mark.first.low}
              y={FIRST - 2}
              width={mark.first.high - mark.first.low}
              height={4}
              className="fill-paper stroke-plum"
            />
          ) : (
            <line
              x1={mark.first.low}
              x2={mark.first.high}
              y1={FIRST}
              y2={FIRST}
              className="stroke-plum"
              strokeWidth={4}
            />
          )}
          <circle cx={mark.first.dot} cy={FIRST} r={5} className="fill-plum" />
          {isSaid(estimate?.first) && (
            <text x={mark.says.x} y={FIRST + 4} textAnchor={mark.says.anchor} className="fill-plum text-tiny">
              {percent(estimate.first.mean)}
            </text>
          )}
        </>
      )}
    </svg>
  );
};
