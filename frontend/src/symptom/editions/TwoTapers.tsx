import type { Forecast } from "../../api/types";
import { foldedRungs, leftAtFoot } from "../../ui/taper/ladderTaper";
import { taper } from "../../ui/taper/taper";

const BOX = { width: 170, middle: 95 };
const HEIGHT = 300;

/** Two ladders over one another at the same height: the later one filled, the earlier one as an outline. */
export const TwoTapers = ({ before, after }: { before: Forecast; after: Forecast }) => {
  const [was, now] = [drawn(before), drawn(after)];
  return (
    <figure className="shrink-0">
      <svg aria-hidden="true" width={BOX.middle * 2} height={HEIGHT} className="block">
        <path d={now.body} className="fill-well" />
        {[now.leftRail, now.rightRail].map((rail) => (
          <path key={rail} d={rail} className="fill-none stroke-rail" strokeWidth={2} />
        ))}
        {now.rungs.map((rung) => (
          <line
            key={rung.y}
            x1={rung.left}
            x2={rung.right}
            y1={rung.y}
            y2={rung.y}
            className="stroke-rail"
            strokeWidth={3}
          />
        ))}
        {[was.leftRail, was.rightRail].map((rail) => (
          <path key={rail} d={rail} className="fill-none stroke-ink" strokeWidth={1.5} strokeDasharray="6 3" />
        ))}
      </svg>
      <figcaption className="mt-1 text-faint text-tiny">filled: after · dashed: before</figcaption>
    </figure>
  );
};

function drawn(forecast: Forecast) {
  const rungs = foldedRungs(forecast);
  return taper(rungs, leftAtFoot(forecast), { ...BOX, row: HEIGHT / Math.max(rungs.length, 1) });
}
