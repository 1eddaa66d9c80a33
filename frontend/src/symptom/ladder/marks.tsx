import { useId } from "react";
import type { Judged } from "../../api/types";
import { trimmed } from "../../ui/format";
import { effortBar } from "./bars";

/** A risk grade as 0 to 4 upright notches; a dash for none. */
export const Notches = ({ grade }: { grade: number }) => (
  <svg aria-hidden="true" width={34} height={14} className="block">
    {grade === 0 && <line x1={0} x2={10} y1={7} y2={7} className="stroke-rail" strokeWidth={1.5} />}
    {Array.from({ length: grade }, (_, number) => (
      <rect key={number} x={number * 8} y={1} width={4} height={12} className="fill-clay" />
    ))}
  </svg>
);

interface EffortProps {
  judged: Judged;
  most: number;
  width: number;
}

/** Effort as a bar: hands-on solid, waiting hatched, a journey dotted; below it who does it, in minutes. */
export const Effort = ({ judged, most, width }: EffortProps) => {
  const bar = effortBar(judged, most, width);
  const hatched = useId();
  return (
    <div>
      <svg aria-hidden="true" width={width} height={9} className="block">
        <defs>
          <pattern id={hatched} width={4} height={4} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1={0} x2={0} y1={0} y2={4} className="stroke-slate" strokeWidth={2.4} />
          </pattern>
        </defs>
        <rect x={bar.handsOn.x} width={bar.handsOn.width} height={9} className="fill-slate" />
        <rect x={bar.wait.x} width={bar.wait.width} height={9} fill={`url(#${hatched})`} />
        {bar.travel.width > 0 && (
          <line
            x1={bar.travel.x + 2}
            x2={bar.travel.x + bar.travel.width}
            y1={4.5}
            y2={4.5}
            className="stroke-slate"
            strokeWidth={3}
            strokeDasharray="2 3"
          />
        )}
      </svg>
      <p className="mt-1 truncate text-tiny text-faint" title={effortInWords(judged)}>
        {effortInWords(judged)}
      </p>
    </div>
  );
};

function effortInWords({ by, hands_on, wait, travel, parts }: Judged): string {
  const more = [
    wait > 0 && `${trimmed(wait)} wait`,
    travel > 0 && `${trimmed(travel)} journey`,
    parts > 0 && `parts ${trimmed(parts)}`,
  ].filter(Boolean);
  return [`${by} ${trimmed(hands_on)}`, ...more].join(" + ");
}
