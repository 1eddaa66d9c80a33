import type { Rate } from "../api/types";
import { type RateMark, rateMark } from "./rateMark";

interface RateAxisProps {
  rate?: Rate | undefined;
  /** What is estimated, beside what was counted. */
  estimate?: Rate | undefined;
  width: number;
}

const HIGH = { one: 14, both: 20 };

/** On an axis from 0 to 100 %, each with its whisker: a counted rate as an open dot, an estimate as a full one. */
export const RateAxis = ({ rate, estimate, width }: RateAxisProps) => {
  const [raw, mark] = [rateMark(rate, width), rateMark(estimate, width)];
  const height = raw && mark ? HIGH.both : HIGH.one;
  const [above, below] = raw && mark ? [6, 14] : [height / 2, height / 2];
  return (
    <svg
      aria-hidden="true"
      width={width + 10}
      height={height}
      viewBox={`-5 0 ${width + 10} ${height}`}
      className="block"
    >
      <line x1={0} x2={width} y1={height / 2} y2={height / 2} className="stroke-rule" />
      {raw && <Mark mark={raw} y={above} line="stroke-ink" dot="fill-paper stroke-ink" />}
      {mark && <Mark mark={mark} y={below} line="stroke-plum" dot="fill-plum stroke-plum" />}
    </svg>
  );
};

const Mark = ({ mark, y, line, dot }: { mark: RateMark; y: number; line: string; dot: string }) => (
  <>
    <line x1={mark.low} x2={mark.high} y1={y} y2={y} className={line} strokeWidth={2} />
    <circle cx={mark.dot} cy={y} r={4} className={dot} strokeWidth={1.8} />
  </>
);
