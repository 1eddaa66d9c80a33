/** What the marks of the mild-quick curve mean. */
import type { MeaningOfMark } from "../../ui/MarksKey";

export const CURVE_MARKS: readonly MeaningOfMark[] = [
  {
    mark: (
      <>
        <path d="M4,4 L20,14 L36,17" className="fill-none stroke-rail" strokeWidth={2} />
        <rect x={15} y={9} width={10} height={10} className="fill-ink" />
      </>
    ),
    means: "A square on the line: a best order. No other order has both less effort and less harm.",
  },
  {
    mark: <circle cx={20} cy={10} r={6} className="fill-paper stroke-brass" strokeWidth={3} />,
    means: "A ring: the draft as it stands. The further from the line, the more another order would spare.",
  },
  {
    mark: <path d="M20,3 l7,7 l-7,7 l-7,-7 z" className="fill-moss" />,
    means: "A lozenge: the mildest steps first, whatever that costs.",
  },
];
