import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Link } from "react-router";
import type { DraftView, Mend, ReviewFinding } from "../../api/types";
import { useSettled } from "../../ui/useSettled";
import { mendsQuery } from "../orders/queries";
import { counted, LEVELS } from "./words";

/** What keeps the draft from being sound: where, in words, and the row of it where the ladder has one. */
export interface FlawAt {
  place: string;
  says: string;
  row: string | undefined;
  /** The item of the Symptom page that has it. */
  onSymptom: string | undefined;
}

interface ReviewStripProps {
  draft: DraftView;
  flaws: readonly FlawAt[];
  /** Undefined while it is being made. */
  review: readonly ReviewFinding[] | undefined;
  onGo: (path: string) => void;
  onGoToRow: (key: string) => void;
  onMend: (mend: Mend) => void;
}

/** What is not sound yet and what review says of the draft as it stands, in one line; opened, each leads to its place or
 * mends it. */
export const ReviewStrip = ({ draft, flaws, review, onGo, onGoToRow, onMend }: ReviewStripProps) => {
  const [isOpen, setOpen] = useState(false);
  const id = useId();
  const findings = review ?? [];
  const isSettled = useSettled(draft.revision) !== undefined && review !== undefined;
  const { data } = useQuery({ ...mendsQuery(draft), enabled: isOpen && isSettled });
  const mends = data?.answer?.mends ?? [];
  const stops = flaws.length > 0 || findings.some(({ level }) => level === "blocker");
  const isEmpty = flaws.length + findings.length === 0;
  return (
    <section aria-label="Review" className="shrink-0 border-rule border-t bg-paper">
      <button
        type="button"
        aria-expanded={isOpen}
        aria-controls={id}
        disabled={isEmpty}
        className="flex w-full items-center gap-3 px-6 py-1.5 text-left text-dense disabled:text-faint"
        onClick={() => setOpen(!isOpen)}
      >
        <span className="font-semibold">Review</span>
        <span className={stops ? "text-clay" : "text-faint"} role="status" aria-live="off">
          {review || flaws.length > 0 ? counted(findings, flaws.length) : "reading …"}
        </span>
        {!isEmpty && <span className="ml-auto text-faint">{isOpen ? "close" : "show"}</span>}
      </button>
      <ul id={id} hidden={!isOpen} className="max-h-52 overflow-auto border-rule border-t px-6 py-1.5 text-dense">
        {flaws.map((flaw) => (
          <FlawLine key={`${flaw.place} ${flaw.row} ${flaw.says}`} flaw={flaw} onGoToRow={onGoToRow} />
        ))}
        {findings.map((finding) => (
          <Finding
            key={`${finding.code} ${finding.where} ${finding.says}`}
            finding={finding}
            mend={mends.find((mend) => mend.code === finding.code && mend.finding === finding.says)}
            onGo={onGo}
            onMend={onMend}
          />
        ))}
      </ul>
    </section>
  );
};

const FlawLine = ({ flaw: { place, says, row, onSymptom }, onGoToRow }: FlawLineProps) => (
  <li className="grid grid-cols-[5rem_1fr] items-baseline gap-x-3 py-0.5">
    <span className={TONES.blocker}>flaw</span>
    {row && (
      <button type="button" className="text-left hover:underline" onClick={() => onGoToRow(row)}>
        {place}: {says}
      </button>
    )}
    {!row && onSymptom && (
      <Link to={`../symptom#${onSymptom}`} relative="path" className="hover:underline">
        {place}: {says}
      </Link>
    )}
    {!row && !onSymptom && (
      <span>
        {place}: {says}
      </span>
    )}
  </li>
);

interface FlawLineProps {
  flaw: FlawAt;
  onGoToRow: (key: string) => void;
}

interface FindingProps {
  finding: ReviewFinding;
  mend: Mend | undefined;
  onGo: (path: string) => void;
  onMend: (mend: Mend) => void;
}

const Finding = ({ finding, mend, onGo, onMend }: FindingProps) => {
  const { rung, level, says } = finding;
  return (
    <li className="grid grid-cols-[5rem_1fr_auto] items-baseline gap-x-3 py-0.5">
      <LevelWord level={level} />
      {rung ? (
        <button type="button" className="text-left hover:underline" onClick={() => onGo(rung)}>
          {says}
        </button>
      ) : (
        <span>{says}</span>
      )}
      {mend && (
        <button type="button" className="link" onClick={() => onMend(mend)}>
          {mend.says}
        </button>
      )}
    </li>
  );
};

const TONES = { blocker: "font-semibold text-clay", warning: "font-semibold text-brass", hint: "text-faint" };

export const LevelWord = ({ level }: { level: ReviewFinding["level"] }) => (
  <span className={TONES[level]}>{LEVELS.find((one) => one.level === level)?.one}</span>
);
