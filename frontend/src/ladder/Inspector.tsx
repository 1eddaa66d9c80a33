import { type ReactNode, useId } from "react";
import { isTested } from "../api/meaning";
import type { DraftView, ReviewFinding } from "../api/types";
import type { Draft } from "../draft/draft";
import type { Flaw } from "../draft/standing";
import { useField } from "../draft/useDraft";
import { LevelWord } from "../review/ReviewStrip";
import { percent, plural, points, tenths } from "../ui/format";
import { AsAgentSees } from "./AsAgentSees";
import { IfMoved } from "./IfMoved";
import type { RungRowData } from "./rungs";

interface InspectorProps {
  draft: DraftView;
  row: RungRowData;
  review: readonly ReviewFinding[];
  /** What is wrong in the rung or its step, by field. */
  flaws: readonly Flaw[];
  /** The draft under edit, for the texts that are typed here. */
  editing: Draft;
  onMoveBy: (by: number) => void;
  onMoveTo: (target: number) => void;
  onTakeNewer: (step: string) => void;
}

/** The chosen rung: why it stands here, what it is judged to cost, what was measured, and its text. */
export const Inspector = ({ draft, row, review, flaws, editing, onMoveBy, onMoveTo, onTakeNewer }: InspectorProps) => {
  const newer = draft.waiting.find((one) => one.step === row.step.id);
  const { step, figures } = row;
  const { index, label, depth, when } = row.row;
  const count = draft.playbook.ladder.length;
  return (
    <aside
      aria-label="The chosen rung"
      className="w-[19rem] shrink-0 overflow-auto border-rule border-l px-5 py-3 max-xl:w-64 low:w-full low:overflow-visible low:border-t low:border-l-0"
    >
      <h2 className="font-bold text-lead">{step.title}</h2>
      <p className="text-dense text-faint">
        {step.kind} · rung {label} of {count}
        {when && ` · ${when}`}
      </p>
      <div className="mt-2 flex gap-2" hidden={depth > 0}>
        <button type="button" className="button" disabled={index === 0} onClick={() => onMoveBy(-1)}>
          Move up
        </button>
        <button type="button" className="button" disabled={index === count - 1} onClick={() => onMoveBy(1)}>
          Move down
        </button>
      </div>
      {newer && (
        <p className="mt-3 border-brass border-l-4 pl-3 text-dense">
          The library has a newer text of this step, by {newer.who}.{" "}
          <button type="button" className="link" onClick={() => onTakeNewer(row.step.id)}>
            Take it into this draft
          </button>
        </p>
      )}
      {flaws.map((flaw) => (
        <p key={`${flaw.key} ${flaw.field.join(" ")}`} className="mt-3 border-clay border-l-4 pl-3 text-dense">
          {capital(flaw.says)}. Until that is mended, figures are made with what stood there before.
        </p>
      ))}
      {review
        .filter((finding) => finding.rung === row.row.path && finding.level !== "hint")
        .map((finding) => (
          <p
            key={finding.says}
            className={`mt-3 border-l-4 pl-3 text-dense ${finding.level === "blocker" ? "border-clay" : "border-brass"}`}
          >
            <LevelWord level={finding.level} />: {finding.says}.
          </p>
        ))}
      <Part title="Why here">
        <Note key={row.key} editing={editing} rung={row.key} title={step.title} />
        <p className="mt-1 text-dense">
          Comes up in {percent(figures.reach)} of cases{depth > 0 && endsInWords(row)}.
        </p>
        {depth === 0 && <IfMoved draft={draft} index={index} onMoveTo={onMoveTo} />}
      </Part>
      <Part title="Judged">
        <Judged row={row} steps={draft.playbook.steps} />
      </Part>
      <Part title="Measured">
        <Measured row={row} />
      </Part>
      {!!step.varies?.length && (
        <Part title="Different by unit">
          <Variants variants={step.varies} footings={draft.playbook.footings ?? []} conditions={draft.conditions} />
        </Part>
      )}
      <Part title="As the agent will see it">
        <AsAgentSees step={step} pictures={draft.pictures} conditions={draft.conditions} />
      </Part>
    </aside>
  );
};

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="mt-3 border-rule border-t pt-2">
    <h3 className="mb-1 font-semibold">{title}</h3>
    {children}
  </section>
);

/** The lead's reason, kept with every key and sent when the typing rests. */
const Note = ({ editing, rung, title }: { editing: Draft; rung: string; title: string }) => {
  const field = useField(editing, rung, ["note"], `Reason of “${title}” changed`);
  const id = useId();
  return (
    <>
      <label htmlFor={id} className="sr-only">
        Why it stands here
      </label>
      <textarea
        id={id}
        className="field text-dense"
        rows={2}
        maxLength={4000}
        placeholder="Say why it stands here"
        value={field.text}
        onFocus={field.onFocus}
        onChange={(event) => field.onType(event.target.value)}
        onBlur={field.onLeave}
        onKeyDown={(event) => {
          if (event.key === "Escape") field.onEscape();
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) editing.flush();
        }}
      />
    </>
  );
};

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

function endsInWords({ figures, step }: RungRowData): string {
  const ended = figures.resolved + figures.worked_around;
  if (!isTested(step.kind)) return " and ends none: it finds out or protects";
  if (Object.keys(step.fixes ?? {}).length === 0) return "; no cause named that it ends";
  const verb = step.kind === "fix" ? "resolves" : "works around";
  const here = figures.reach > 0 ? `, ${percent(ended / figures.reach)} of those that come this far` : "";
  return ` and ${verb} ${percent(ended)}${here}`;
}

const Judged = ({ row, steps }: { row: RungRowData; steps: DraftView["playbook"]["steps"] }) => {
  const { judged, step } = row;
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 text-dense">
      <Pair name="effort each time" value={`${tenths(judged.effort)} effort min`} />
      {step.search && (
        <Pair
          name="searching"
          value={`${step.search.count} ${step.search.over}, ${step.search.how === "halves" ? "by halves" : "one by one"}`}
        />
      )}
      <Pair name="on the clock" value={`${tenths(judged.elapsed)} min`} />
      <Pair
        name="harm each time"
        value={
          judged.eased_harm < judged.bare_harm
            ? `${points(judged.eased_harm)}, bare ${points(judged.bare_harm)}`
            : points(judged.bare_harm)
        }
      />
      {step.hazards?.map((hazard) => (
        <div key={`${hazard.kind} ${hazard.severity}`} className="col-span-2 text-faint">
          {hazard.kind}, severity {hazard.severity} of 5, {percent(hazard.chance)} of the times
          {hazard.eased_by &&
            `; eased by ${steps.find((other) => other.id === hazard.eased_by)?.title ?? hazard.eased_by}`}
        </div>
      ))}
    </dl>
  );
};

type Variant = NonNullable<RungRowData["step"]["varies"]>[number];

interface VariantsProps {
  variants: Variant[];
  footings: { id: string; title: string }[];
  conditions: Record<string, string>;
}

/** What is otherwise on which units, each in one line. */
const Variants = ({ variants, footings, conditions }: VariantsProps) => (
  <dl className="space-y-1 text-dense">
    {variants.map((variant) => (
      <div key={variant.when}>
        <dt className="font-semibold">{conditions[variant.when] ?? variant.when}</dt>
        <dd className="text-faint">{variantInWords(variant, footings)}</dd>
      </div>
    ))}
  </dl>
);

function variantInWords(variant: Variant, footings: { id: string; title: string }[]): string {
  const { effort, done, footing, fixes, hazards, to_hand } = variant;
  const parts = [
    effort &&
      `${effort.by ?? "desk"} ${tenths(effort.hands_on ?? 0)} min${effort.wait ? ` + ${tenths(effort.wait)} wait` : ""}${effort.travel ? ` + ${tenths(effort.travel)} journey` : ""}`,
    done != null && `can be done in ${percent(done)}`,
    footing && `on the footing ${footings.find(({ id }) => id === footing)?.title ?? footing}`,
    fixes && (Object.keys(fixes).length > 0 ? "ends other causes" : "ends nothing there"),
    hazards && (hazards.length > 0 ? "other hazards" : "no hazards"),
    to_hand && `to hand: ${to_hand.map(({ what }) => what).join(", ")}`,
  ];
  return parts.filter(Boolean).join("; ");
}

const Measured = ({ row: { evidence, step } }: { row: RungRowData }) => {
  if (!evidence) return <p className="text-dense text-faint">No case has come to this step yet.</p>;
  const tested = isTested(step.kind);
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-y-0.5 text-dense">
      {tested && (
        <>
          <Pair name="tried" value={`${evidence.tried} times`} />
          <Pair name="resolved" value={String(evidence.resolved)} />
          <Pair name="held" value={`${evidence.held} of ${evidence.judged} judged`} />
          {evidence.raw.mean != null && (
            <Pair
              name="raw rate"
              value={`${percent(evidence.raw.mean)} (${percent(evidence.raw.low ?? 0)} to ${percent(evidence.raw.high ?? 1)})`}
            />
          )}
        </>
      )}
      {!tested && <Pair name="carried out" value={`${evidence.found + evidence.done} times`} />}
      {evidence.together > 0 && <Pair name="fixed together with others" value={plural(evidence.together, "time")} />}
      {evidence.could_not > 0 && <Pair name="could not be done" value={`${evidence.could_not} times`} />}
      {evidence.not_available > 0 && <Pair name="not there on the unit" value={`${evidence.not_available} times`} />}
      {evidence.skipped > 0 && <Pair name="skipped" value={`${evidence.skipped} times`} />}
    </dl>
  );
};

const Pair = ({ name, value }: { name: string; value: string }) => (
  <div className="contents">
    <dt className="text-faint">{name}</dt>
    <dd className="text-right">{value}</dd>
  </div>
);
