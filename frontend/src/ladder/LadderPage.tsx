import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { CurvePoint, DraftView } from "../api/types";
import type { Flaw } from "../draft/standing";
import type { Tree } from "../draft/tree";
import { ROOT } from "../draft/tree";
import { evidenceQuery } from "../evidence/queries";
import { OrdersStrip } from "../orders/OrdersStrip";
import { ReviewStrip } from "../review/ReviewStrip";
import { levelsByRow } from "../review/words";
import { InHead } from "../symptom/SymptomLayout";
import { useTitle } from "../ui/Heading";
import { Empty, LoadFailed, Loading } from "../ui/States";
import { say } from "../ui/say";
import { useKeys } from "../ui/useKeys";
import { DraftTrouble } from "./DraftTrouble";
import { Inspector } from "./Inspector";
import { Ladder } from "./Ladder";
import { placeAfter } from "./moves";
import { PublishDialog } from "./PublishDialog";
import { placeInWords } from "./places";
import { RefusalBar } from "./RefusalBar";
import { type Block, keyOfPath, keyOfStep, type RungRowData, rungOf } from "./rungs";
import { Standing } from "./Standing";
import { Totals } from "./Totals";
import { useBlocks } from "./useBlocks";
import { useLadder } from "./useLadder";

/** The builder: the ladder of one symptom, its figures, and the chosen rung. */
export const LadderPage = () => {
  const { playbookId = "" } = useParams();
  return <LadderOf key={playbookId} playbookId={playbookId} />;
};

const LadderOf = ({ playbookId }: { playbookId: string }) => {
  const ladder = useLadder(playbookId);
  const { view, now, error, retry } = ladder;
  if (!view || !now.tree) return error ? <LoadFailed error={error} onRetry={retry} /> : <Loading rows={9} />;
  return <Builder view={view} tree={now.tree} ladder={ladder} />;
};

interface BuilderProps {
  view: DraftView;
  tree: Tree;
  ladder: ReturnType<typeof useLadder>;
}

const Builder = ({ view, tree, ladder }: BuilderProps) => {
  const { playbook } = view;
  const { draft, now, review } = ladder;
  const { data: evidence } = useQuery(evidenceQuery(playbook.id));
  const [chosenKey, setChosenKey] = useState<string>();
  const [focus, setFocus] = useState<{ key: string }>();
  const [isPublishing, setPublishing] = useState(false);
  const [isComparing, setComparing] = useState(false);
  const [preview, setPreview] = useState<CurvePoint>();
  const blocks = useBlocks(view, evidence);
  const [params] = useSearchParams();
  const linked = keyOfStep(blocks, params.get("step"));
  const chosen = rungOf(blocks, chosenKey ?? linked) ?? blocks[0];
  const marked = useMemo(() => marksOf(blocks, review ?? [], now.flaws, tree), [blocks, review, now.flaws, tree]);
  const undo = () => draft.undo();
  const redo = () => draft.redo();
  useKeys({ undo, redo });
  useTitle("Ladder", playbook.title);

  const moveTo = (key: string, target: (index: number, count: number) => number) => {
    setChosenKey(key);
    ladder.move(key, target, () => setFocus({ key }));
  };
  const moveBy = (key: string, by: number) => {
    const block = blocks.find((one) => key === one.key || one.side.some((side) => side.key === key));
    if (block) moveTo(block.key, (index, count) => placeAfter(index, by, count));
  };
  const go = (key: string | undefined) => {
    if (!key) return;
    setChosenKey(key);
    setFocus({ key });
  };

  return (
    <>
      <InHead says={<Standing view={view} now={now} />}>
        <StepBack label="Undo" change={now.undo} onClick={undo} />
        <StepBack label="Redo" change={now.redo} onClick={redo} />
        <button
          type="button"
          className="button"
          data-tone="main"
          disabled={(view.is_published && !view.isBehind) || blocks.length === 0}
          onClick={() => setPublishing(true)}
        >
          {view.is_published && !view.isBehind
            ? `Edition ${view.published?.number} is out`
            : `Publish edition ${(view.published?.number ?? 0) + 1}`}
        </button>
      </InHead>
      <Totals draft={view} unsound={[...new Set(view.instead.map(({ key }) => placeInWords(tree, key)))]}>
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
      {isComparing && (
        <OrdersStrip
          draft={view}
          onPreview={setPreview}
          onChoose={(point, name) => {
            setPreview(undefined);
            ladder.takeOrder(point, name);
          }}
          onTake={ladder.takeSuggestion}
        />
      )}
      <DraftTrouble draft={draft} now={now} />
      {ladder.refusal && <RefusalBar refusal={ladder.refusal} onDismiss={ladder.dismiss} />}
      {chosen ? (
        <div className="flex min-h-0 flex-1 low:flex-none low:flex-col">
          <Ladder
            view={view}
            blocks={blocks}
            marked={marked}
            chosen={chosen.key}
            holders={ladder.refusal?.holders ?? []}
            focus={focus}
            refused={ladder.refusal}
            preview={preview?.arriving}
            onChoose={setChosenKey}
            onMoveBy={moveBy}
            onDrop={(key, target) => moveTo(key, () => target)}
          />
          <Inspector
            draft={view}
            row={chosen}
            review={review ?? []}
            flaws={now.flaws.filter((flaw) => isOf(flaw, chosen, tree))}
            editing={draft}
            onMoveBy={(by) => moveBy(chosen.key, by)}
            onMoveTo={(target) => moveTo(chosen.key, () => target)}
            onTakeNewer={ladder.takeNewer}
          />
        </div>
      ) : (
        <Empty title="This ladder has no rung yet">Bring in a playbook file whose ladder has some.</Empty>
      )}
      {chosen && (
        <ReviewStrip draft={view} review={review} onGo={(path) => go(keyOfPath(blocks, path))} onMend={ladder.mend} />
      )}
      <PublishDialog
        draft={view}
        review={review ?? []}
        flaws={now.flaws.map(({ key, says }) => ({ place: placeInWords(tree, key), says }))}
        waiting={now.waiting}
        isOpen={isPublishing}
        onOpenChange={setPublishing}
        isPublishing={ladder.publishing.isPending}
        error={ladder.publishing.error}
        onPublish={(note) =>
          ladder.publishing.mutate(note, {
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

interface StepBackProps {
  label: string;
  change: { label: string } | undefined;
  onClick: () => void;
}

/** Undo or redo of one's own last deed, which says beforehand what it would change. */
const StepBack = ({ label, change, onClick }: StepBackProps) => (
  <button
    type="button"
    className="button"
    data-tone="quiet"
    disabled={!change}
    title={change ? change.label : `Nothing of yours to ${label.toLowerCase()}`}
    onClick={onClick}
  >
    {label}
  </button>
);

/** Whether a flaw is in a rung, or in its step. */
function isOf({ key }: Flaw, { key: rung, step }: RungRowData, tree: Tree): boolean {
  if (!tree.items.has(key)) return false;
  const own = tree
    .children(ROOT, ["steps"])
    .find((one) => one.id === step.id || one.name === step.id || one.key === step.id);
  return key === rung || (own !== undefined && tree.isBelow(key, own.key));
}

/** The gravest thing that review has to say of each row; a flaw is as grave as a blocker. */
function marksOf(
  blocks: readonly Block[],
  review: Parameters<typeof levelsByRow>[0],
  flaws: readonly Flaw[],
  tree: Tree,
): ReturnType<typeof levelsByRow> {
  const marks = levelsByRow(review);
  if (flaws.length === 0) return marks;
  for (const block of blocks) {
    for (const row of [block, ...block.side]) {
      if (row.step && flaws.some((flaw) => isOf(flaw, row, tree))) marks.set(row.row.path, "blocker");
    }
  }
  return marks;
}
