import type { Drift, MonthCount } from "../../api/types";
import { inMonth, percent } from "../../ui/format";
import { sparkline } from "./axis";

interface TrendProps {
  months: readonly MonthCount[];
  all: readonly string[];
  drift: Drift | undefined;
}

const BOX = { width: 84, height: 22 };

/** The share resolved of what was tried, month by month; marked where the step has stopped working. */
export const Trend = ({ months, all, drift }: TrendProps) => {
  const by = new Map(months.map((one) => [one.month, one]));
  const shares = all.map((month) => {
    const one = by.get(month);
    return one && one.tried > 0 ? one.resolved / one.tried : undefined;
  });
  const said = shares.filter((share) => share !== undefined);
  const [first, last] = [said[0], said.at(-1)];
  if (first === undefined || last === undefined || said.length < 2) return null;
  const from = drift ? all.indexOf(drift.since) : -1;
  return (
    <span className="block">
      {drift && <span className="block text-clay text-tiny">since {inMonth(drift.since)}</span>}
      <svg
        role="img"
        aria-label={`resolved of tried by month, ${percent(first)} at first, ${percent(last)} now`}
        width={BOX.width}
        height={BOX.height + 4}
        viewBox={`0 -2 ${BOX.width} ${BOX.height + 4}`}
        className="block"
      >
        <line x1={0} x2={BOX.width} y1={BOX.height} y2={BOX.height} className="stroke-rule" />
        {from > 0 && (
          <line
            x1={(from / (all.length - 1)) * BOX.width}
            x2={(from / (all.length - 1)) * BOX.width}
            y1={0}
            y2={BOX.height}
            className="stroke-clay"
            strokeDasharray="2 2"
          />
        )}
        <path
          d={sparkline(shares, BOX.width, BOX.height)}
          className={`fill-none ${drift ? "stroke-clay" : "stroke-faint"}`}
          strokeWidth={1.5}
        />
      </svg>
    </span>
  );
};
