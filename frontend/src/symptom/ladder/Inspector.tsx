import { lazy, type ReactNode, Suspense } from "react";
import { RemarksOnStep } from "../../advice/remarks/Remarks";
import { isTested } from "../../api/meaning";
import type { DraftView, ReviewFinding, Step } from "../../api/types";
import type { Flaw } from "../../draft/state";
import { fillers, sampled } from "../../editing/fields/blanks";
import { useEditing } from "../../editing/fields/Editing";
import { ChoiceField, TextField } from "../../editing/fields/Field";
import { ConditionField, ProseField } from "../../editing/fields/Texts";
import { STEP_KINDS } from "../../editing/fields/words";
import { ByUnitSection } from "../../editing/step/ByUnitSection";
import { FindsSection } from "../../editing/step/FindsSection";
import { FineSection } from "../../editing/step/FineSection";
import { Section } from "../../editing/step/Section";
import { EffortSection, EndsSection, RiskSection, TextSection } from "../../editing/step/Sections";
import { SharedNotice } from "../../editing/step/SharedNotice";
import { count, percent, plural, points, tenths } from "../../ui/format";
import type { KeyName } from "../../ui/keys";
import { WhenSeen } from "../../ui/WhenSeen";
import { LevelWord } from "../review/ReviewStrip";
import { IfMoved } from "./IfMoved";
import { Ended, endsOf, Took } from "./Learned";
import { PlaceSection, RailsSection } from "./RungFields";
import type { Measured, RungRowData } from "./rungs";

/** What it draws text with is half of the page, and stands below the fold. */
const AsAgentSees = lazy(async () => ({ default: (await import("./AsAgentSees")).AsAgentSees }));

interface InspectorProps {
  draft: DraftView;
  row: RungRowData;
  measured: Measured;
  review: readonly ReviewFinding[];
  /** What is wrong in the rung or its step, by field. */
  flaws: readonly Flaw[];
  onMoveBy: (by: number) => void;
  onMoveTo: (target: number) => void;
  onTakeNewer: (step: string) => void;
  onChoose: (key: string) => void;
  /** What the keys of a rung do, by pointer. */
  onAct: (key: string, act: KeyName) => void;
}

/** The chosen rung and its step: everything that is said of them, edited where it stands. */
export const Inspector = (props: InspectorProps) => {
  const { draft, row, review, flaws, onMoveBy, onMoveTo, onTakeNewer, onChoose, onAct } = props;
  const newer = draft.waiting.find((one) => one.step === row.step.id);
  const { tree } = useEditing();
  const { item, step } = row;
  const { index, label, depth } = row.row;
  const count = draft.rows.filter((one) => one.depth === 0).length;
  const at = Object.values(draft.keys).indexOf(row.key);
  const isSeenByUnit = Object.keys(draft.unit).length > 0;
  const seen = draft.playbook.steps.find((one) => one.id === step.id);
  return (
    <aside
      aria-label="The chosen rung"
      className="w-[20rem] shrink-0 overflow-auto border-rule border-l px-5 py-3 max-xl:w-72 low:w-full low:overflow-visible low:border-t low:border-l-0"
    >
      <h2 className="font-bold text-lead">{step.title}</h2>
      <p className="text-dense text-faint">
        rung {label} of {count}
      </p>
      <div className="mt-2 flex gap-2" hidden={depth > 0}>
        <button type="button" className="button" disabled={index === 0} onClick={() => onMoveBy(-1)}>
          Move up
        </button>
        <button type="button" className="button" disabled={index === count - 1} onClick={() => onMoveBy(1)}>
          Move down
        </button>
      </div>
      <p className="mt-2 flex flex-wrap gap-x-3 text-dense">
        {DEEDS.filter(({ act }) => (act === "out-of-rail" ? depth > 0 : true)).map(({ act, says }) => (
          <button key={act} type="button" className="link" onClick={() => onAct(row.key, act)}>
            {says}
          </button>
        ))}
      </p>
      {newer && (
        <p className="mt-3 border-brass border-l-4 pl-3 text-dense">
          The library has a newer text of this step, by {newer.who}.{" "}
          <button type="button" className="link" onClick={() => onTakeNewer(step.id)}>
            Take it into this draft
          </button>
        </p>
      )}
      {step.id && <RemarksOnStep playbook={draft.playbook.id} step={step.id} />}
      {item.key && <SharedNotice step={item.key} title={step.title} revision={draft.revision} />}
      {flaws.length > 0 && (
        <div className="mt-3 border-clay border-l-4 pl-3 text-dense">
          {flaws.map((flaw) => (
            <p key={`${flaw.key} ${flaw.field.join(" ")}`}>{capital(flaw.says)}.</p>
          ))}
          <p className="text-faint">Until this is corrected, figures use the last sound value.</p>
        </div>
      )}
      {review
        .filter((finding) => finding.level !== "hint" && draft.keys[finding.rung ?? ""] === row.key)
        .map((finding) => (
          <p
            key={finding.says}
            className={`mt-3 border-l-4 pl-3 text-dense ${finding.level === "blocker" ? "border-clay" : "border-brass"}`}
          >
            <LevelWord level={finding.level} />: {finding.says}.
          </p>
        ))}
      <Section title="Why here" isSaying>
        <ProseField
          item={row.key}
          path={["note"]}
          label="Why it stands here"
          placeholder="Say why it stands here"
          isPlain
          step={item.key}
        />
        <ConditionField item={row.key} label="condition: only when" />
        {row.figures && (
          <p className="mt-1 text-dense">
            Comes up in {percent(row.figures.reach)} of {isSeenByUnit ? "these units' cases" : "cases"}
            {depth > 0 && endsInWords(row)}.
          </p>
        )}
        {depth === 0 && at >= 0 && row.figures && !isSeenByUnit && (
          <IfMoved draft={draft} index={placeAmongMeasured(draft, row.key)} onMoveTo={onMoveTo} />
        )}
      </Section>
      {item.key && <StepEditor {...props} seen={seen} />}
      <PlaceSection rung={row.key} onChoose={onChoose} />
      <RailsSection rung={row.key} onChoose={onChoose} />
      {seen && (
        <Section title="As the agent will see it" isSaying>
          <WhenSeen>
            <Suspense>
              <AsAgentSees
                step={seen}
                pictures={draft.pictures}
                conditions={draft.conditions}
                fill={sampled(fillers(tree, item.key))}
              />
            </Suspense>
          </WhenSeen>
        </Section>
      )}
    </aside>
  );
};

const DEEDS: { act: KeyName; says: string }[] = [
  { act: "add-rung", says: "new rung below" },
  { act: "into-rail", says: "into a side rail" },
  { act: "out-of-rail", says: "out of its rail" },
  { act: "mark-rung", says: "mark" },
  { act: "take-out-rung", says: "take out" },
];

/** Which rung of the main line it is among those that the figures were made of. */
const placeAmongMeasured = (draft: DraftView, key: string): number =>
  Object.entries(draft.keys)
    .filter(([path]) => !path.includes(".on."))
    .findIndex(([, one]) => one === key);

const StepEditor = ({ draft, row, measured, seen }: InspectorProps & { seen: Step | undefined }) => {
  const { tree } = useEditing();
  const { item, judged, evidence } = row;
  if (!tree.items.has(item.key)) return null;
  return (
    <>
      <div className="mt-3 flex items-end gap-3 border-rule border-t pt-2">
        <span className="min-w-0 flex-1">
          <TextField item={item.key} path={["title"]} label="title of the step" isLong />
        </span>
        <ChoiceField item={item.key} path={["kind"]} label="kind" options={STEP_KINDS} />
      </div>
      <TextSection step={item} />
      <EffortSection step={item}>
        {judged && (
          <p className="text-dense text-faint">
            {tenths(judged.effort)} effort min each time, {tenths(judged.elapsed)} min on the clock
          </p>
        )}
        <Took evidence={measured.evidence} step={row.step} />
      </EffortSection>
      <RiskSection step={item}>{judged && harmInShort(judged)}</RiskSection>
      <EndsSection
        step={item}
        below={({ key, id, name }) => {
          const guess = endsOf(measured.estimate, row.step.id, [name, id, key]);
          return guess && <Ended guess={guess} />;
        }}
      >
        <Counted row={row} />
      </EndsSection>
      <FindsSection step={item} />
      <ByUnitSection step={item} />
      <FineSection step={item} />
      {!evidence && !seen && draft.isBehind && (
        <p className="mt-2 text-dense text-faint">Its figures are on their way.</p>
      )}
    </>
  );
};

const GRADES = ["none", "mild", "guarded", "rough", "severe"];

function harmInShort({ eased, bare_harm, eased_harm }: NonNullable<RungRowData["judged"]>): ReactNode {
  const harm = eased_harm < bare_harm ? `${points(eased_harm)}, bare ${points(bare_harm)}` : points(bare_harm);
  return `${GRADES[eased]} · ${harm} harm`;
}

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

function endsInWords({ figures, step }: RungRowData): string {
  if (!figures) return "";
  const ended = figures.resolved + figures.worked_around;
  if (!isTested(step.kind)) return " and ends none: it finds out or protects";
  if (Object.keys(step.fixes ?? {}).length === 0) return "; no cause named that it ends";
  const verb = step.kind === "fix" ? "resolves" : "works around";
  const here = figures.reach > 0 ? `, ${percent(ended / figures.reach)} of those that come this far` : "";
  return ` and ${verb} ${percent(ended)}${here}`;
}

const Counted = ({ row: { evidence, step } }: { row: RungRowData }) => {
  if (!evidence) return <p className="text-dense text-faint">No case has come to this step yet.</p>;
  const tested = isTested(step.kind);
  return (
    <dl className="mt-1 grid grid-cols-[1fr_auto] gap-y-0.5 text-dense text-plum">
      {tested && (
        <>
          <Pair name="tried" value={plural(evidence.tried, "time")} />
          <Pair name="resolved" value={count(evidence.resolved)} />
          <Pair name="held" value={`${count(evidence.held)} of ${count(evidence.judged)} judged`} />
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
    <dt>{name}</dt>
    <dd className="text-right">{value}</dd>
  </div>
);
