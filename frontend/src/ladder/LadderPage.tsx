import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { CurvePoint, DraftView, Suggestion } from "../api/types";
import { evidenceQuery } from "../evidence/queries";
import { OrdersStrip } from "../orders/OrdersStrip";
import { ReviewStrip } from "../review/ReviewStrip";
import { useMyName } from "../shell/queries";
import { InHead } from "../symptom/SymptomLayout";
import { moment, points, tenths } from "../ui/format";
import { useTitle } from "../ui/Heading";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { say } from "../ui/say";
import { useKeys } from "../ui/useKeys";
import { Inspector } from "./Inspector";
import { Ladder } from "./Ladder";
import { PublishDialog } from "./PublishDialog";
import { RefusalBar } from "./RefusalBar";
import { blocksOf, keyOfPath, keyOfStep, placeAfter, rungOf } from "./rungs";
import { Totals } from "./Totals";
import { useDraft } from "./useDraft";

/** The builder: the ladder of one symptom, its figures, and the chosen rung. */
export const LadderPage = () => {
  const { playbookId = "" } = useParams();
  const draft = useDraft(playbookId);
  const { data, error, refetch } = draft.query;
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={9} />;
  return <Builder key={playbookId} view={data} draft={draft} />;
};

interface BuilderProps {
  view: DraftView;
  draft: ReturnType<typeof useDraft>;
}

const Builder = ({ view, draft }: BuilderProps) => {
  const { playbook } = view;
  const { data: evidence } = useQuery(evidenceQuery(playbook.id));
  const [chosenKey, setChosenKey] = useState<string>();
  const [focus, setFocus] = useState<{ key: string }>();
  const [isPublishing, setPublishing] = useState(false);
  const [isComparing, setComparing] = useState(false);
  const [preview, setPreview] = useState<CurvePoint>();
  const me = useMyName();
  const blocks = blocksOf(view, evidence);
  const [params] = useSearchParams();
  const linked = keyOfStep(blocks, params.get("step"));
  const chosen = rungOf(blocks, chosenKey ?? linked) ?? blocks[0];
  useKeys({ undo: draft.undo, redo: draft.redo });
  useTitle("Ladder", playbook.title);

  const moveTo = (key: string, target: (index: number, count: number) => number) => {
    setChosenKey(key);
    draft.move(key, target, (after) => {
      setFocus({ key });
      say(spoken(after, key));
    });
  };
  const moveBy = (key: string, by: number) => {
    const block = blocks.find((one) => key === one.key || one.side.some((side) => side.key === key));
    if (block) moveTo(block.key, (index, count) => placeAfter(index, by, count));
  };
  const takeOrder = (point: CurvePoint, name: string) => {
    setPreview(undefined);
    draft.reorder(point.rungs, `${name} taken`, view.revision, (after) => say(`${name} taken. ${costs(after)}`));
  };
  const takeSuggestion = (suggestion: Suggestion) => {
    const { ladder, says } = suggestion;
    if (ladder) draft.saveDocument((now) => ({ ...now, ladder }), says.length > 280 ? `${says.slice(0, 279)}…` : says);
  };
  const go = (key: string | undefined) => {
    if (!key) return;
    setChosenKey(key);
    setFocus({ key });
  };
  const saveNote = (key: string, title: string, note: string) =>
    draft.saveDocument((now) => {
      const { ladder } = now;
      const at = blocks.find((block) => block.key === key)?.index;
      const noted = ladder.map((rung, index) => (index === at ? { ...rung, note: note || null } : rung));
      return { ...now, ladder: noted };
    }, `Reason of ${title} changed`);

  return (
    <>
      <InHead says={<Standing view={view} isSaving={draft.isSaving} />}>
        <StepBack label="Undo" change={view.undo} me={me} onClick={draft.undo} />
        <StepBack label="Redo" change={view.redo} me={me} onClick={draft.redo} />
        <button
          type="button"
          className="button"
          data-tone="main"
          disabled={view.is_published || blocks.length === 0}
          onClick={() => setPublishing(true)}
        >
          {view.is_published
            ? `Edition ${view.published?.number} is out`
            : `Publish edition ${(view.published?.number ?? 0) + 1}`}
        </button>
      </InHead>
      <Totals draft={view}>
        <button
          type="button"
          className="button"
          aria-expanded={isComparing}
          disabled={blocks.length === 0}
          onClick={() => {
            setComparing(!isComparing);
            setPreview(undefined);
          }}
        >
          Compare orders
        </button>
      </Totals>
      {isComparing && <OrdersStrip draft={view} onPreview={setPreview} onChoose={takeOrder} onTake={takeSuggestion} />}
      {draft.refusal && <RefusalBar refusal={draft.refusal} onDismiss={draft.dismiss} />}
      {chosen ? (
        <div className="flex min-h-0 flex-1 low:flex-none low:flex-col">
          <Ladder
            view={view}
            blocks={blocks}
            chosen={chosen.key}
            holders={draft.refusal?.holders ?? []}
            focus={focus}
            refused={draft.refusal}
            preview={preview?.arriving}
            onChoose={setChosenKey}
            onMoveBy={moveBy}
            onDrop={(key, target) => moveTo(key, () => target)}
          />
          <Inspector
            draft={view}
            row={chosen}
            onNote={(note) => saveNote(chosen.key, chosen.step.title, note)}
            onMoveBy={(by) => moveBy(chosen.key, by)}
            onMoveTo={(target) => moveTo(chosen.key, () => target)}
            onTakeNewer={draft.takeNewer}
          />
        </div>
      ) : (
        <Empty title="This ladder has no rung yet">Bring in a playbook file whose ladder has some.</Empty>
      )}
      {chosen && (
        <ReviewStrip
          draft={view}
          onGo={(path) => go(keyOfPath(blocks, path))}
          onMend={(mend) => draft.mend(mend, (after) => say(`${mend.says}: done. ${costs(after)}`))}
        />
      )}
      <PublishDialog
        draft={view}
        isOpen={isPublishing}
        onOpenChange={setPublishing}
        isPublishing={draft.publishing.isPending}
        error={draft.publishing.error}
        onPublish={(note) =>
          draft.publishing.mutate(note, {
            onSuccess: (edition) => {
              setPublishing(false);
              say(`Edition ${edition.number} is published`);
            },
          })
        }
      />
    </>
  );
};

const Standing = ({ view, isSaving }: { view: DraftView; isSaving: boolean }) => (
  <>
    {view.published ? `edition ${view.published.number} since ${moment(view.published.at)}` : "not published yet"}
    {" · "}
    <span role="status">{isSaving ? "saving …" : `draft saved ${moment(view.saved.at)} by ${view.saved.who}`}</span>
  </>
);

interface StepBackProps {
  label: string;
  change: DraftView["undo"];
  me: string | undefined;
  onClick: () => void;
}

/** Undo or redo, which says beforehand what it would change and whose change that was. */
const StepBack = ({ label, change, me, onClick }: StepBackProps) => (
  <button
    type="button"
    className="button"
    data-tone="quiet"
    disabled={!change}
    title={change ? changeInWords(change, me) : `Nothing to ${label.toLowerCase()}`}
    onClick={onClick}
  >
    {label}
  </button>
);

const changeInWords = (change: { label: string; who: string }, me: string | undefined) =>
  change.who === me ? change.label : `${change.label} (${change.who})`;

function spoken(draft: DraftView, key: string): string {
  const row = blocksOf(draft, undefined).find((block) => block.key === key);
  if (!row) return "";
  return `${row.step.title}, now rung ${row.index + 1} of ${draft.playbook.ladder.length}. ${costs(draft)}`;
}

const costs = ({ forecast: { effort, harm } }: DraftView) =>
  `A case takes ${tenths(effort)} effort minutes and ${points(harm)} harm points.`;
