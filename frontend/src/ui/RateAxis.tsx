import type { Rate } from "../api/types";
import { rateMark } from "./rateMark";

interface RateAxisProps {
  rate: Rate | undefined;
  width: number;
  /** What was counted is an open dot, what is estimated a full one. */
  tone?: "raw" | "estimate";
}

const TONES = {
  raw: { line: "stroke-ink", dot: "fill-paper stroke-ink" },
  estimate: { line: "stroke-plum", dot: "fill-plum stroke-plum" },
};

/** A rate as a dot with its whisker, on an axis from 0 to 100 %. */
export const RateAxis = ({ rate, width, tone = "raw" }: RateAxisProps) => {
  const mark = rateMark(rate, width);
  return (
    <svg aria-hidden="true" width={width + 10} height={14} viewBox={`-5 0 ${width + 10} 14`} className="block">
      <line x1={0} x2={width} y1={7} y2={7} className="stroke-rule" />
      {mark && (
        <>
          <line x1={mark.low} x2={mark.high} y1={7} y2={7} className={TONES[tone].line} strokeWidth={2} />
          <circle cx={mark.dot} cy={7} r={4} className={TONES[tone].dot} strokeWidth={1.8} />
        </>
      )}
    </svg>
  );
};
