/** What the marks of the drawn ladder and of its rows mean. */
import type { MeaningOfMark } from "../../ui/MarksKey";

export const TAPER_MARKS: readonly MeaningOfMark[] = [
  {
    mark: <path d="M4,0 L12,20 M36,0 L28,20" className="stroke-rail" strokeWidth={2.5} />,
    means: "The rails: as far apart as there are cases still unresolved. A ladder that narrows early is a good one.",
  },
  {
    mark: <line x1={4} x2={36} y1={10} y2={10} className="stroke-rail" strokeWidth={4} />,
    means: "A rung: as wide as the share of cases for which it comes up; the figure above it says which.",
  },
  {
    mark: <line x1={4} x2={36} y1={10} y2={10} className="stroke-rail" strokeWidth={3} strokeDasharray="3 3" />,
    means: "Dashed: a check, which ends nothing by itself.",
  },
  {
    mark: <path d="M12,5 h16 v11 h-16 z" className="fill-moss stroke-moss" strokeWidth={1.5} />,
    means: "To the right, filled: what the rung resolves.",
  },
  {
    mark: <path d="M12,5 h16 v11 h-16 z" className="fill-paper stroke-moss" strokeWidth={1.5} />,
    means: "To the right, hollow: what a workaround gets round.",
  },
  {
    mark: <rect x={12} y={5} width={16} height={10} className="fill-paper stroke-clay" strokeWidth={1.5} />,
    means: "To the left, hollow: what leaves unresolved and is handed off.",
  },
  {
    mark: <path d="M14,4 h12 M14,10 h12 M14,16 h12" className="stroke-clay" strokeWidth={3} />,
    means: "Notches in the rail, none to four: how risky the step is with the safeguards above it.",
  },
  {
    mark: <path d="M12,0 v20 M28,0 v20" className="stroke-faint" strokeWidth={1} strokeDasharray="2 4" />,
    means: "Dotted rails: the published edition, behind a draft that differs from it.",
  },
];
