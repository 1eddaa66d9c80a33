/** What the marks of an evidence row, and of the curve of what is spent, mean. */
import type { MeaningOfMark } from "../../ui/MarksKey";

export const EVIDENCE_MARKS: readonly MeaningOfMark[] = [
  {
    mark: <rect x={1} y={4} width={38} height={12} className="fill-none stroke-rail" />,
    means: "Outline: how often the step came up.",
  },
  {
    mark: <rect x={1} y={4} width={28} height={12} className="fill-rail" />,
    means: "Within it: how often it was tried.",
  },
  {
    mark: <rect x={1} y={4} width={18} height={12} className="fill-moss" />,
    means: "Within that: how often it resolved the fault.",
  },
  {
    mark: <rect x={1} y={4} width={12} height={12} className="fill-ink" />,
    means: "Within that: how often it was still resolved after the return window.",
  },
  {
    mark: <circle cx={20} cy={10} r={4} className="fill-paper stroke-ink" strokeWidth={1.6} />,
    means: "Hollow dot: the raw rate, resolved of tried.",
  },
  {
    mark: (
      <>
        <line x1={4} x2={36} y1={10} y2={10} className="stroke-plum" strokeWidth={2} />
        <circle cx={20} cy={10} r={4} className="fill-plum" />
      </>
    ),
    means:
      "Filled dot: the share it would resolve if tried first, with its 95 % interval. Steps lower down meet harder cases, so the two differ.",
  },
];
