import type { ClimbView } from "../../api/types";
import { inRem, ROW_REM } from "../../ui/rem";
import { leftAtFoot, taperRungs } from "../../ui/taper/ladderTaper";
import { taper } from "../../ui/taper/taper";

const BOX = { width: 92, middle: 52 };

/** The slim taper with the path so far: what came of each rung, which were passed over and why, where one stands. */
export const ClimbPath = ({ view }: { view: ClimbView }) => {
  const { forecast } = view;
  const row = inRem(ROW_REM);
  const paths = view.path.map(({ path }) => path);
  const drawing = taper(taperRungs(forecast, paths), leftAtFoot(forecast), { ...BOX, row });
  const fresh = new Map(view.new_since.map(({ step, says }) => [step, says]));
  const lines = drawing.rungs.flatMap((rung) => [rung, ...rung.side]);
  return (
    <section
      aria-label="The path so far"
      className="row-[1/-1] overflow-auto border-rule border-r py-4 pl-4 max-lg:hidden"
    >
      <div className="relative" style={{ height: drawing.height }}>
        <svg aria-hidden="true" width={112} height={drawing.height} className="absolute inset-0">
          <path d={drawing.body} className="fill-well" />
          <path d={drawing.leftRail} className="fill-none stroke-rail" strokeWidth={2} />
          <path d={drawing.rightRail} className="fill-none stroke-rail" strokeWidth={2} />
          {view.path.map((rung, index) => {
            const at = lines[index];
            return (
              at && <PathRung key={at.y} state={rung.state} says={rung.says} left={at.left} right={at.right} y={at.y} />
            );
          })}
        </svg>
        <ol>
          {view.path.map((rung, index) => (
            <li
              key={index}
              aria-current={rung.state === "now" ? "step" : undefined}
              data-state={rung.state}
              style={{ height: row }}
              className="flex flex-col justify-center pr-2 pl-[7.25rem] text-tiny text-faint data-[state=now]:font-bold data-[state=now]:text-ink"
              title={rung.title}
            >
              <span className="line-clamp-2 leading-tight">
                {fresh.has(rung.step) && (
                  <span className="mr-1 font-bold text-brass" title={fresh.get(rung.step)}>
                    changed
                  </span>
                )}
                {rung.depth > 0 && `${rung.label} `}
                {rung.title}
              </span>
              {rung.says && rung.state !== "now" && (
                <span className={`line-clamp-1 leading-tight ${rung.state === "tried" ? "text-ink" : "italic"}`}>
                  {rung.says}
                </span>
              )}
            </li>
          ))}
        </ol>
      </div>
    </section>
  );
};

interface PathRungProps {
  state: ClimbView["path"][number]["state"];
  says: string;
  left: number;
  right: number;
  y: number;
}

const PathRung = ({ state, says, left, right, y }: PathRungProps) => {
  if (state === "passed") {
    return <line x1={left} x2={right} y1={y} y2={y} className="stroke-rail" strokeWidth={1.5} strokeDasharray="2 4" />;
  }
  if (state === "now") {
    return (
      <>
        <line x1={left} x2={right} y1={y} y2={y} className="stroke-ink" strokeWidth={6} strokeLinecap="round" />
        <path d={`M${right + 5},${y} l8,-5 v10 z`} className="fill-brass" />
      </>
    );
  }
  const tone = says === "fixed" ? "stroke-moss" : "stroke-rail";
  return <line x1={left} x2={right} y1={y} y2={y} className={tone} strokeWidth={state === "ahead" ? 1 : 4} />;
};
