import type { Rate } from "../api/types";
import { rateMark } from "./rateMark";

interface RateAxisProps {
  rate: Rate | undefined;
  width: number;
}

/** A raw rate as an open dot with its whisker, on an axis from 0 to 100 %. */
export const RateAxis = ({ rate, width }: RateAxisProps) => {
  const mark = rateMark(rate, width);
  return (
    <svg aria-hidden="true" width={width + 10} height={14} viewBox={`-5 0 ${width + 10} 14`} className="block">
      <line x1={0} x2={width} y1={7} y2={7} className="stroke-rule" />
      {mark && (
        <>
          <line x1={mark.low} x2={mark.high} y1={7} y2={7} className="stroke-ink" strokeWidth={2} />
          <circle cx={mark.dot} cy={7} r={4} className="fill-paper stroke-ink" strokeWidth={1.8} />
        </>
      )}
    </svg>
  );
};
