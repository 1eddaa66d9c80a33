import { useQuery } from "@tanstack/react-query";
import type { DraftView, PlaceMove } from "../../api/types";
import { difference, points, tenths } from "../../ui/format";
import { useSettled } from "../../ui/useSettled";
import { whyQuery } from "../orders/queries";

/** A longer list is folded: it would push the rest of the inspector out of sight. */
const MOST_OPEN = 8;

interface IfMovedProps {
  draft: DraftView;
  index: number;
  onMoveTo: (target: number) => void;
}

/** Why the rung stands where it does, in the server's sentences, and what every other place would change. */
export const IfMoved = ({ draft, index, onMoveTo }: IfMovedProps) => {
  const isSettled = useSettled(draft.revision) !== undefined && !draft.isBehind;
  const { data, error } = useQuery({ ...whyQuery(draft, index), enabled: isSettled });
  const why = draft.isBehind ? undefined : data?.answer;
  if (error) return <p className="mt-1 text-dense text-faint">{error.message}</p>;
  if (!why) return <p className="mt-1 h-16 text-dense text-faint">Working it out …</p>;
  return (
    <>
      {why.says.map((says) => (
        <p key={says} className="mt-1 text-dense">
          {says}
        </p>
      ))}
      {why.moves.length > 0 && (
        <details className="mt-1 text-dense" open={why.moves.length <= MOST_OPEN}>
          <summary className="cursor-pointer font-semibold">If it moved</summary>
          <ul className="mt-0.5">
            {why.moves.map((move) => (
              <li key={move.target} className="grid grid-cols-[3.25rem_1fr] gap-x-2 py-0.5">
                {move.held_by.length > 0 ? (
                  <span className="text-faint">to {move.target + 1}</span>
                ) : (
                  <button type="button" className="link text-left" onClick={() => onMoveTo(move.target)}>
                    to {move.target + 1}
                  </button>
                )}
                <Change move={move} />
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
};

const Change = ({ move }: { move: PlaceMove }) => {
  if (move.effort == null || move.harm == null) {
    return <span className="text-faint">held: {move.held_by.join("; ")}</span>;
  }
  return (
    <span>
      <Signed value={move.effort} inWords={tenths} least={0.05} unit="min" />
      {" · "}
      <Signed value={move.harm} inWords={points} least={0.005} unit="harm" />
    </span>
  );
};

interface SignedProps {
  value: number;
  inWords: (n: number) => string;
  least: number;
  unit: string;
}

const Signed = ({ value, inWords, least, unit }: SignedProps) => {
  const tone = Math.abs(value) < least ? "text-faint" : value < 0 ? "text-moss" : "text-clay";
  return <span className={tone}>{difference(value, least, inWords, unit)}</span>;
};
