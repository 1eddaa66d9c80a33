import { type ReactNode, useContext } from "react";
import type { FilledInstruction, FilledWay, Passage } from "../../api/types";
import { plural } from "../../ui/format";
import { Prose } from "../../ui/Prose";
import { CopyButton } from "./CopyButton";
import { Hold } from "./Hold";
import { Spelled } from "./Spelled";
import { WaysContext } from "./ways";

/** A value that is asked inside the step: the instruction at which it is, and the field for it. */
export interface AskedAt {
  instruction: FilledInstruction;
  field: ReactNode;
}

interface InstructionListProps {
  instructions: readonly FilledInstruction[];
  asked?: AskedAt;
}

/** Numbered instructions for this unit, commands ready to copy, ways to be tried in turn. What is asked is asked at the
 * first that waits for it. */
export const InstructionList = ({ instructions, asked }: InstructionListProps) => (
  <>
    {instructions.map((instruction, number) => (
      <li key={number} className="grid grid-cols-[2rem_minmax(0,1fr)] border-rule border-b py-2 text-[0.9375rem]">
        <span className="text-faint">{number + 1}</span>
        <div className={instruction.asks?.length ? "text-faint" : ""}>
          <One instruction={instruction} />
          {asked?.instruction === instruction && asked.field}
        </div>
      </li>
    ))}
  </>
);

const One = ({ instruction }: { instruction: FilledInstruction }) => (
  <span>
    {instruction.only_where && <span className="text-slate">Only where {instruction.only_where}: </span>}
    {instruction.text && <Prose text={instruction.text} />}
    {instruction.picture && (
      <img
        src={`/api/pictures/${instruction.picture}`}
        alt={`What to look for: ${instruction.text ?? ""}`}
        className="mt-2 block max-h-56 max-w-full border border-rule"
      />
    )}
    {instruction.hold != null && <Hold key={instruction.text} seconds={instruction.hold} />}
    {instruction.copy_text && (
      <span className="mt-1.5 flex w-fit max-w-full flex-wrap items-center gap-x-3 bg-well px-2.5 py-1.5">
        <code className="min-w-0 font-mono text-dense [overflow-wrap:anywhere]">{instruction.copy_text}</code>
        {instruction.waits_for?.length ? (
          <span className="text-dense text-faint">
            not to be copied yet: {instruction.waits_for.join(", ")} is missing
          </span>
        ) : (
          <>
            <CopyButton text={instruction.copy_text} label="copy" hotkey="c" />
            <Spelled text={instruction.copy_text} />
          </>
        )}
      </span>
    )}
    {instruction.ways?.map((way, number) => (
      <OneWay key={way.words} way={way} isFirst={number === 0} />
    ))}
  </span>
);

/** One of several ways to do it, where one may mark that it was this one that worked. */
const OneWay = ({ way, isFirst }: { way: FilledWay; isFirst: boolean }) => {
  const marks = useContext(WaysContext);
  const isMarked = marks?.worked.includes(way.words);
  return (
    <span className="mt-1 flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1 border-rule border-l-2 pl-3">
      <span className="min-w-0 flex-1 basis-64">
        {!isFirst && <span className="text-faint">or: </span>}
        {way.do.map((inner, place) => (
          <span key={place} className={place > 0 ? "mt-1 block" : ""}>
            <One instruction={inner} />
          </span>
        ))}
        {way.worked > 0 && <span className="block text-dense text-faint">worked in {plural(way.worked, "case")}</span>}
      </span>
      {marks && (
        <button
          type="button"
          aria-pressed={isMarked}
          className="button py-0.5 text-dense aria-pressed:border-moss aria-pressed:bg-moss aria-pressed:text-paper"
          data-tone="quiet"
          onClick={() => marks.toggle(way.words)}
        >
          <span aria-hidden="true">{isMarked ? "✓" : "–"}</span> this way worked
        </button>
      )}
    </span>
  );
};

/** What stands before or after the step itself: entering or leaving a state, putting something back. */
export const Passages = ({ passages, asked }: { passages: readonly Passage[]; asked?: AskedAt }) => (
  <>
    {passages.map((passage) => (
      <section key={passage.title} className="mt-3 border-slate border-l-4 bg-sheet px-4 py-2">
        <h2 className="font-semibold">{passage.title}</h2>
        {passage.without && passage.without.length > 0 && (
          <p className="text-clay">Not there until it is left: {passage.without.join(", ")}</p>
        )}
        <ol>
          <InstructionList instructions={passage.do} asked={asked} />
        </ol>
      </section>
    ))}
  </>
);
