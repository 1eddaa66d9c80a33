import type { Forecast } from "../../api/types";
import { foldedRungs, leftAtFoot } from "./ladderTaper";
import { taper } from "./taper";

interface TaperThumbProps {
  forecast: Forecast;
  height: number;
}

const WIDTH = 56;

/** The taper at thumbnail size: its shape, and a tab for each rung that ends something. */
export const TaperThumb = ({ forecast, height }: TaperThumbProps) => {
  const rungs = foldedRungs(forecast);
  const row = height / Math.max(rungs.length, 1);
  const drawing = taper(rungs, leftAtFoot(forecast), { width: WIDTH, row, middle: WIDTH / 2 + 1 });
  const tab = Math.min(row * 0.45, 5);
  return (
    <svg aria-hidden="true" width={WIDTH + 24} height={height} className="block">
      <path d={drawing.body} className="fill-well" />
      <path d={drawing.leftRail} className="fill-none stroke-rail" strokeWidth={1.5} />
      <path d={drawing.rightRail} className="fill-none stroke-rail" strokeWidth={1.5} />
      {drawing.rungs.map((rung) => (
        <rect key={rung.y} x={rung.tab.x + 1} y={rung.y} width={rung.tab.width} height={tab} className="fill-moss" />
      ))}
    </svg>
  );
};
