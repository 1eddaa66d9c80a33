import type { ClimbView, Move } from "../../api/types";
import { refuseHeld } from "../../ui/refuseHeld";

export type SignView = ClimbView["signs"][number];

interface SeenSignProps {
  sign: SignView;
  onRecord: (move: Move) => void;
}

const ANSWERS = [
  ["yes", "seen"],
  ["no", "not there"],
  [null, "not looked"],
] as const;

/** Whether a sign that can be seen is there. A second press says the same again, and so says nothing. */
export const SeenSign = ({ sign, onRecord }: SeenSignProps) => (
  <fieldset className="flex flex-wrap gap-x-2" onKeyDown={refuseHeld}>
    <legend className="sr-only">{sign.text}</legend>
    {ANSWERS.map(([seen, says]) => (
      <button
        key={says}
        type="button"
        aria-pressed={sign.seen === seen}
        className="button py-0.5 text-dense aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
        data-tone="quiet"
        onClick={() => sign.seen !== seen && onRecord({ kind: "sign", sign: sign.text, seen })}
      >
        <span aria-hidden="true">{sign.seen === seen ? "✓" : "–"}</span> {says}
      </button>
    ))}
  </fieldset>
);
