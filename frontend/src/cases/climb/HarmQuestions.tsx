import type { HarmAsked as Asked, HazardKind } from "../../api/types";
import { Key } from "../../ui/Key";
import { harmKey, printed } from "../../ui/keys";
import { copyNeeded, type PutRight } from "./harm";

interface HarmQuestionsProps {
  asked: Asked[];
  seen: HazardKind[];
  onToggle: (kind: HazardKind) => void;
  putRight: PutRight | undefined;
  onPutRight: (how: PutRight) => void;
}

const HOW_MUCH: Record<PutRight, string> = { whole: "all of it", partly: "partly", no: "no" };

/** Whether carrying the step out did the harm that it names; saying nothing counts as none seen. */
export const HarmQuestions = ({ asked, seen, onToggle, putRight, onPutRight }: HarmQuestionsProps) => {
  const copy = copyNeeded(asked, seen);
  return (
    <fieldset className="flex w-full flex-wrap items-center gap-x-2 gap-y-1 text-dense">
      <legend className="float-left mr-2 text-faint">Did it do harm? Mark it before you answer:</legend>
      {asked.map(({ kind, says }) => (
        <button
          key={kind}
          type="button"
          aria-pressed={seen.includes(kind)}
          className="button py-0.5 aria-pressed:border-clay aria-pressed:bg-clay aria-pressed:text-paper"
          data-tone="quiet"
          onClick={() => onToggle(kind)}
        >
          <span aria-hidden="true">{seen.includes(kind) ? "✓" : "–"}</span>
          {says} <HarmKey kind={kind} />
        </button>
      ))}
      {copy && (
        <fieldset className="flex w-full flex-wrap items-center gap-x-2 gap-y-1">
          <legend className="float-left mr-2 text-faint">Could it be put right from “{copy.title}”?</legend>
          {Object.entries(HOW_MUCH).map(([how, says]) => (
            <button
              key={how}
              type="button"
              aria-pressed={putRight === how}
              className="button py-0.5 aria-pressed:border-slate aria-pressed:bg-slate aria-pressed:text-paper"
              data-tone="quiet"
              onClick={() => onPutRight(how as PutRight)}
            >
              {says}
            </button>
          ))}
        </fieldset>
      )}
    </fieldset>
  );
};

const HarmKey = ({ kind }: { kind: HazardKind }) => {
  const name = harmKey(kind);
  return name && <Key>{printed(name)}</Key>;
};
