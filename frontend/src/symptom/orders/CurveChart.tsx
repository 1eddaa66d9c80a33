import { points as inPoints, tenths, tick } from "../../ui/format";
import { curvePlot } from "./curvePlot";
import { called, type NamedPoint, samePoint } from "./words";

interface CurveChartProps {
  points: NamedPoint[];
  shown: NamedPoint;
  onPoint: (point: NamedPoint | undefined) => void;
  onChoose: (point: NamedPoint) => void;
}

const BOX = { width: 248, height: 190, margin: { left: 40, right: 12, top: 26, bottom: 34 } };
const ON_CURVE = new Set(["quickest", "mildest", "between", "only"]);

/** Effort to the right, harm upwards: the best orders as squares on a line, the draft as a ring. Each is a button. */
export const CurveChart = ({ points, shown, onPoint, onChoose }: CurveChartProps) => {
  const flat = points.map((named) => ({ ...named, effort: named.point.effort, harm: named.point.harm }));
  const corners = flat.filter(({ name }) => ON_CURVE.has(name));
  const others = flat.filter(({ name }) => !ON_CURVE.has(name));
  const plot = curvePlot(corners, others, BOX);
  return (
    <div className="relative shrink-0" style={{ width: BOX.width, height: BOX.height }}>
      <svg aria-hidden="true" width={BOX.width} height={BOX.height}>
        {plot.harmTicks.map(({ y, value }) => (
          <g key={value}>
            <line x1={BOX.margin.left} x2={BOX.width - BOX.margin.right} y1={y} y2={y} className="stroke-rule" />
            <text x={BOX.margin.left - 6} y={y + 4} textAnchor="end" className="fill-clay text-tiny">
              {tick(value)}
            </text>
          </g>
        ))}
        {plot.effortTicks.map(({ x, value }) => (
          <text key={value} x={x} y={BOX.height - 20} textAnchor="middle" className="fill-slate text-tiny">
            {tick(value)}
          </text>
        ))}
        <text x={BOX.width - BOX.margin.right} y={BOX.height - 4} textAnchor="end" className="fill-faint text-tiny">
          effort minutes a case
        </text>
        <text x={0} y={11} className="fill-faint text-tiny">
          ↑ harm points a case
        </text>
        <path d={plot.curve} className="fill-none stroke-rail" strokeWidth={2} />
      </svg>
      <ul>
        {plot.placed.map(({ point, x, y }) => (
          <li key={`${point.name} ${point.point.order.join()}`}>
            <button
              type="button"
              aria-label={`${called(point.name)}: ${tenths(point.effort)} minutes, ${inPoints(point.harm)} harm points`}
              aria-disabled={point.name === "draft"}
              onPointerEnter={() => onPoint(point)}
              onPointerLeave={() => onPoint(undefined)}
              onFocus={() => onPoint(point)}
              onBlur={() => onPoint(undefined)}
              onClick={() => onChoose(point)}
              className="absolute flex size-6 -translate-x-1/2 -translate-y-1/2 cursor-pointer items-center justify-center"
              style={{ left: x, top: y }}
            >
              <Mark name={point.name} isShown={samePoint(point, shown)} />
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
};

/** Squares lie on the curve, a lozenge has the mildest first, a ring is the draft. */
const Mark = ({ name, isShown }: { name: NamedPoint["name"]; isShown: boolean }) => {
  const shape =
    name === "draft"
      ? "size-3.5 rounded-full border-[3px] border-brass bg-paper"
      : name === "mildest-first"
        ? "size-2.5 rotate-45 bg-moss"
        : "size-2.5 bg-ink";
  return <span className={`${shape} ${isShown ? "outline-2 outline-ink outline-offset-2" : ""}`} />;
};
