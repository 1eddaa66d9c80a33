import { Fragment, type ReactNode } from "react";
import type { Instruction, Step } from "../../api/types";
import { Prose } from "../../ui/Prose";

interface Kept {
  /** Digest of the kept picture by its path. */
  pictures: Record<string, string>;
  /** Conditions in words, by how they are written. */
  conditions: Record<string, string>;
  /** Fills blanks with values that stand for any. */
  fill: (text: string) => string;
}

/** A step's text as the agent will meet it, filled with values that stand for any. */
export const AsAgentSees = ({ step, ...kept }: { step: Step } & Kept) => (
  <div className="space-y-2 text-dense">
    {step.say && (
      <p className="border-clay border-l-4 pl-2">
        “<Prose text={kept.fill(step.say)} />”
      </p>
    )}
    {step.guard?.map((guard) => (
      <p key={guard.ask}>
        <span className="text-faint">Guard, must be {guard.must}:</span> {kept.fill(guard.ask)}
      </p>
    ))}
    {step.beware?.map((text) => (
      <p key={text} className="border-brass border-l-4 pl-2">
        <Prose text={kept.fill(text)} />
      </p>
    ))}
    {step.inputs?.map((input) => (
      <p key={input.id}>
        <span className="text-faint">Asked once:</span> {input.ask}
      </p>
    ))}
    <ol className="space-y-1">
      {step.do?.map((instruction, number) => (
        <li key={number} className="grid grid-cols-[1.25rem_1fr]">
          <span className="text-faint">{number + 1}</span>
          <OneInstruction instruction={instruction} {...kept} />
        </li>
      ))}
    </ol>
    {!step.do?.length && <p className="text-faint">No instructions are written yet.</p>}
    <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1">
      <Line name="worked when">{step.expect && <Prose text={kept.fill(step.expect)} />}</Line>
      <Line name="harmless">{step.harmless?.map(kept.fill).join(" · ")}</Line>
      <Line name="missing">{step.missing && <Prose text={kept.fill(step.missing)} />}</Line>
      <Line name="stuck">{step.stuck && <Prose text={kept.fill(step.stuck)} />}</Line>
      <Line name="to hand">
        {step.to_hand?.map((need) => `${need.what}${need.from ? ` (${need.from})` : ""}`).join(" · ")}
      </Line>
      <Line name="undo">{undoInWords(step)}</Line>
    </dl>
  </div>
);

const OneInstruction = ({ instruction, pictures, conditions, fill }: { instruction: Instruction } & Kept) => (
  <span>
    {instruction.when && <span className="text-slate">where {conditions[instruction.when] ?? instruction.when}: </span>}
    {instruction.text && <Prose text={fill(instruction.text)} />}
    {instruction.copy && <code className="command mt-1 block w-fit break-all">{fill(instruction.copy)}</code>}
    {instruction.picture && pictures[instruction.picture] && (
      <img
        src={`/api/pictures/${pictures[instruction.picture]}`}
        alt={`What to look for: ${fill(instruction.text ?? "")}`}
        className="mt-1 block max-h-40 max-w-full border border-rule"
      />
    )}
    {instruction.ways?.map((way, number) => (
      <span key={number} className="mt-0.5 block border-rule border-l-2 pl-2">
        {number > 0 && <span className="text-faint">or: </span>}
        {way.map((inner, place) => (
          <OneInstruction key={place} instruction={inner} {...{ pictures, conditions, fill }} />
        ))}
      </span>
    ))}
  </span>
);

const Line = ({ name, children }: { name: string; children: ReactNode }) =>
  children ? (
    <Fragment>
      <dt className="text-faint">{name}</dt>
      <dd>{children}</dd>
    </Fragment>
  ) : null;

function undoInWords(step: Step): string {
  const possible = step.undo?.possible ?? "no";
  if (possible === "no") return step.hazards?.length ? "cannot be undone" : "";
  return `${possible === "partly" ? "only partly" : "can be undone"}${step.undo?.how ? `: ${step.undo.how}` : ""}`;
}
