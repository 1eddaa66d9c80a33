import { useRef } from "react";
import type { EstimateView } from "../../api/types";
import { ColumnNames } from "../../ui/ColumnNames";
import { percent, tenths, tick } from "../../ui/format";
import { SaveLinks } from "./SaveLinks";
import { type Spent, spentPlot } from "./spentPlot";

const BOX = { width: 420, height: 110 };
const LEFT = 44;

interface SpentCurveProps {
  spent: EstimateView["spent"];
  playbook: string;
}

/** The share resolved against the effort spent: as forecast, in the best order, and as the cases went; with its table. */
export const SpentCurve = ({ spent, playbook }: SpentCurveProps) => {
  const drawing = useRef<SVGSVGElement>(null);
  const plot = spentPlot(spent, BOX.width, BOX.height);
  return (
    <section aria-label="Share resolved against effort spent" className="max-w-xl">
      <h2 className="font-semibold">Share resolved against effort spent</h2>
      <svg
        ref={drawing}
        aria-hidden="true"
        width={BOX.width + LEFT + 12}
        height={BOX.height + 34}
        viewBox={`${-LEFT} -6 ${BOX.width + LEFT + 12} ${BOX.height + 34}`}
        className="max-w-full"
      >
        {[plot.half, plot.all].map((y, place) => (
          <g key={y}>
            <line x1={0} x2={BOX.width} y1={y} y2={y} className="stroke-rule" />
            <text x={-4} y={y + 4} textAnchor="end" className="fill-faint text-tiny">
              {place ? "100 %" : "50 %"}
            </text>
          </g>
        ))}
        <line x1={0} x2={BOX.width} y1={BOX.height} y2={BOX.height} className="stroke-rule" />
        {plot.ticks.map(({ x, value }) => (
          <text key={value} x={x} y={BOX.height + 14} textAnchor="middle" className="fill-slate text-tiny">
            {tick(value)}
          </text>
        ))}
        <text x={BOX.width} y={BOX.height + 27} textAnchor="end" className="fill-faint text-tiny">
          effort minutes a case
        </text>
        {plot.best && <path d={plot.best} className="fill-none stroke-moss" strokeWidth={2} strokeDasharray="6 4" />}
        <path d={plot.forecast} className="fill-none stroke-plum" strokeWidth={2} strokeDasharray="1.5 3" />
        {plot.observed && <path d={plot.observed} className="fill-none stroke-ink" strokeWidth={2} />}
      </svg>
      <table className="w-full max-w-md text-dense">
        <ColumnNames of={["curve", "ended in all", "effort in all"]} />
        <tbody>
          {spent.observed && <CurveLine name="observed, at judged effort" look="solid" curve={spent.observed} />}
          <CurveLine name="forecast of this ladder" look="dotted" curve={spent.forecast} />
          {spent.best && <CurveLine name="forecast in the best balanced order" look="dashed" curve={spent.best} />}
        </tbody>
      </table>
      <p className="mt-1 flex gap-x-4 text-dense">
        <SaveLinks name={`${playbook}-effort`} what="it" drawing={drawing} />
      </p>
    </section>
  );
};

const LOOKS = {
  solid: "border-ink border-solid",
  dotted: "border-plum border-dotted",
  dashed: "border-moss border-dashed",
};

const CurveLine = ({ name, look, curve }: { name: string; look: keyof typeof LOOKS; curve: Spent[] }) => {
  const last = curve.at(-1);
  return (
    <tr>
      <th scope="row" className="pr-3 text-left font-normal">
        <span aria-hidden="true" className={`mr-2 inline-block w-6 border-t-2 align-middle ${LOOKS[look]}`} />
        {name}
      </th>
      <td className="whitespace-nowrap pr-3">{percent(last?.ended ?? 0)} ended</td>
      <td className="whitespace-nowrap text-faint">{tenths(last?.effort ?? 0)} min</td>
    </tr>
  );
};
