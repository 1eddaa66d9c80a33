import type { ClimbView, Move } from "../../api/types";

export type SignView = ClimbView["signs"][number];

interface SeenSignProps {
  sign: SignView;
  onRecord: (move: Move) => void;
}

const ANSWERS = [
  ["yes", "seen"],
  ["no", "not there"],
] as const;

/** Whether a sign that can be seen is there; pressed once more, nobody has looked. */
export const SeenSign = ({ sign, onRecord }: SeenSignProps) => (
  <fieldset className="flex gap-2">
    <legend className="sr-only">{sign.text}</legend>
    {ANSWERS.map(([seen, says]) => (
      <button
        key={seen}
        type="button"
        aria-pressed={sign.seen === seen}
        className="button py-0.5 text-dense aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
        data-tone="quiet"
        onClick={() => onRecord({ kind: "sign", sign: sign.text, seen: sign.seen === seen ? null : seen })}
      >
        <span aria-hidden="true">{sign.seen === seen ? "✓" : "–"}</span> {says}
      </button>
    ))}
  </fieldset>
);
