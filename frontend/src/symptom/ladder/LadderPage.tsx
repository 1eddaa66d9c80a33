import { useEffect, useMemo, useRef, useState } from "react";
import { useParams } from "react-router";
import { NudgeStrip, NudgeTaken } from "../../advice/nudges/NudgeStrip";
import type { Nudge } from "../../advice/nudges/queries";
import type { CurvePoint, DraftView } from "../../api/types";
import type { Tree } from "../../draft/tree";
import { DraftTrouble } from "../../editing/DraftTrouble";
import { EditingPlace } from "../../editing/fields/Editing";
import { placeInWords } from "../../editing/places";
import { QuickLine } from "../../editing/quick/QuickLine";
import { Saved, SaveState } from "../../editing/SaveState";
import { UndoButton } from "../../editing/UndoButton";
import { moveFocus } from "../../ui/focus";
import { useTitle } from "../../ui/Heading";
import { LoadFailed, Loading } from "../../ui/States";
import { say } from "../../ui/say";
import { useKeys } from "../../ui/useKeys";
import { OrdersPanel } from "../orders/OrdersPanel";
import { ReviewStrip } from "../review/ReviewStrip";
import { InHead } from "../SymptomLayout";
import { BasisSwitch } from "./BasisSwitch";
import { Inspector } from "./Inspector";
import { Ladder } from "./Ladder";
import { ListDialog } from "./ListDialog";
import { unitInWords } from "./lens";
import { MarkedBar } from "./MarkedBar";
import { placeAfter } from "./moves";
import { PublishDialog } from "./PublishDialog";
import { RailDialog } from "./RailDialog";
import { RefusalBar } from "./RefusalBar";
import { flawsAt, isOf, marksOf, useLevels } from "./rowMarks";
import { keyOfStep, keysInOrder, rungOf } from "./rungs";
import { Totals } from "./Totals";
import { UnitLens } from "./UnitLens";
import { useAddress } from "./useAddress";
import { useBasis } from "./useBasis";
import { useBlocks } from "./useBlocks";
import { useBuilding } from "./useBuilding";
import { useLadder } from "./useLadder";
import { useLearned } from "./useLearned";

/** The builder: the ladder of one symptom, its figures, and the chosen rung. */
export const LadderPage = () => {
  const { playbookId = "" } = useParams();
  return <LadderOf key={playbookId} playbookId={playbookId} />;
};

const LadderOf = ({ playbookId }: { playbookId: string }) => {
  const address = useAddress();
  const taught = useBasis(playbookId);
  const ladder = useLadder(playbookId, address.unit, taught.basis);
  const { view, now, error, retry } = ladder;
  if (!view || !now.tree)
    return error ? (
      <NoFigures
        ladder={ladder}
        error={error}
        onRetry={address.unit.length > 0 ? () => address.seeUnit([]) : retry}
        retry={address.unit.length > 0 ? "See it for all units" : undefined}
      />
    ) : (
      <Loading rows={9} />
    );
  return (
    <EditingPlace draft={ladder.draft} tree={now.tree} flaws={now.flaws} playbookId={playbookId}>
      <Builder view={view} tree={now.tree} ladder={ladder} address={address} taught={taught} />
    </EditingPlace>
  );
};

type LadderState = ReturnType<typeof useLadder>;

interface NoFiguresProps {
  ladder: LadderState;
  error: Error;
  onRetry: () => void;
  /** What trying again is called, where it is another thing that is tried. */
  retry: string | undefined;
}

/** What can still be done where a draft has no figures at all. */
const NoFigures = ({ ladder, error, onRetry, retry }: NoFiguresProps) => {
  const { draft, now } = ladder;
  return (
    <>
      <InHead says={now.tree ? <Saved draft={draft} /> : ""}>
        <UndoButton label="Undo" change={now.undo} onClick={() => draft.undo()} />
        <UndoButton label="Redo" change={now.redo} onClick={() => draft.redo()} />
      </InHead>
      <DraftTrouble draft={draft} now={now} />
      <LoadFailed error={error} onRetry={onRetry} {...(retry && { retry })} />
    </>
  );
};

interface BuilderProps {
  view: DraftView;
  tree: Tree;
  ladder: LadderState;
  address: ReturnType<typeof useAddress>;
  taught: ReturnType<typeof useBasis>;
}

const Builder = ({ view, tree, ladder, address, taught }: BuilderProps) => {
  const { playbook } = view;
  const { draft, now, review } = ladder;
  const { evidence, estimate } = taught;
  const learned = useLearned(playbook.id, view, evidence?.cases ?? 0);
  const { chosen: chosenKey, choose: setChosenKey, unit, isComparing: isAskedToCompare } = address;
  const [isPublishing, setPublishing] = useState(false);
  const [isLensOpen, setLensOpen] = useState(unit.length > 0);
  const [preview, setPreview] = useState<CurvePoint>();
  const [taken, setTaken] = useState<Nudge>();
  const blocks = useBlocks(view, tree, { evidence, estimate });
  const linked = keyOfStep(blocks, address.step);
  const chosen = rungOf(blocks, chosenKey ?? linked) ?? blocks[0];
  const levels = useLevels(review, view.keys);
  const marked = useMemo(() => marksOf(blocks, levels, now.flaws, tree), [blocks, levels, now.flaws, tree]);
  const flaws = useMemo(() => flawsAt(blocks, now.flaws, tree), [blocks, now.flaws, tree]);
  const isSeenByUnit = unit.length > 0;
  const isComparing = isAskedToCompare && !isSeenByUnit;
  const undo = () => {
    if (now.undo) say(`Undone: ${now.undo.label}`);
    draft.undo();
  };
  const redo = () => {
    if (now.redo) say(`Redone: ${now.redo.label}`);
    draft.redo();
  };
  useKeys({ undo, redo });
  useTitle("Ladder", playbook.title);

  const compare = (isOn: boolean) => {
    address.compare(isOn);
    setPreview(undefined);
  };
  const go = (key: string | undefined) => {
    if (!key) return;
    setChosenKey(key);
    moveFocus({ rung: key });
  };
  const building = useBuilding({ draft, tree, playbookId: playbook.id, blocks, go });
  const moveTo = (key: string, target: (index: number, count: number) => number) => {
    setChosenKey(key);
    ladder.move(key, target, () => moveFocus({ rung: key }));
  };
  const moveBy = (key: string, by: number) => {
    if (blocks.some((one) => one.key === key)) moveTo(key, (index, count) => placeAfter(index, by, count));
    else building.moveOnRail(key, by);
  };
  const footLine = useRef<HTMLInputElement>(null);
  const midLine = useRef<HTMLInputElement>(null);
  const { adding } = building;
  useEffect(() => {
    if (adding) midLine.current?.focus();
  }, [adding]);
  const picked = keysInOrder(blocks).filter((key) => building.picked.has(key));

  return (
    <>
      <InHead says={<SaveState view={view} now={now} draft={draft} />}>
        <UndoButton label="Undo" change={now.undo} onClick={undo} />
        <UndoButton label="Redo" change={now.redo} onClick={redo} />
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
      <Totals
        draft={view}
        unsound={[...new Set(view.instead.map(({ key }) => placeInWords(tree, key)))]}
        unit={unitInWords(tree, unit)}
        learned={isSeenByUnit ? undefined : learned}
        by={taught.canBeTaught && <BasisSwitch by={taught.basis.by} onChoose={taught.choose} />}
      >
        <button
          type="button"
          className="button low:hidden"
          aria-expanded={isLensOpen}
          disabled={blocks.length === 0}
          onClick={() => {
            setLensOpen(!isLensOpen);
            address.seeUnit([]);
          }}
        >
          {isSeenByUnit ? "All units" : "By unit"}
        </button>
        <button
          type="button"
          className="button"
          aria-expanded={isComparing}
          disabled={blocks.length === 0 || isSeenByUnit}
          title={isSeenByUnit ? "An order is one for all units" : undefined}
          onClick={() => compare(!isComparing)}
        >
          Compare orders
        </button>
      </Totals>
      {isLensOpen && <UnitLens tree={tree} unit={unit} onSee={address.seeUnit} />}
      {address.nudge && (
        <NudgeStrip
          playbookId={playbook.id}
          nudgeKey={address.nudge}
          isOpened={address.isNudgeOpened}
          onTake={(revision, nudge) => {
            if (ladder.takeNudge(revision, nudge)) setTaken(nudge);
            address.leaveNudge();
          }}
          onLeave={address.leaveNudge}
        />
      )}
      {taken && (
        <NudgeTaken
          nudge={taken}
          onUndo={
            now.undo?.label.startsWith(taken.says)
              ? () => {
                  undo();
                  setTaken(undefined);
                }
              : undefined
          }
          onClose={() => setTaken(undefined)}
        />
      )}
      <DraftTrouble draft={draft} now={now} />
      {ladder.refusal && <RefusalBar refusal={ladder.refusal} onDismiss={ladder.dismiss} />}
      {picked.length > 0 && (
        <MarkedBar keys={picked} onRail={() => building.askRail(picked)} onDone={building.unpick} />
      )}
      <div className="flex min-h-0 flex-1 low:flex-none low:flex-col">
        <Ladder
          view={view}
          blocks={blocks}
          marked={marked}
          chosen={chosen?.key ?? ""}
          holders={ladder.refusal?.holders ?? []}
          refused={ladder.refusal}
          preview={preview?.arriving}
          onChoose={setChosenKey}
          onMoveBy={moveBy}
          onDrop={(key, target) => moveTo(key, () => target)}
          onDropOnRail={(key, host) => building.putOnRail([key], host)}
          onAct={building.act}
          onTitled={building.titled}
          editing={building.editing}
          picked={building.picked}
          adding={
            adding === undefined
              ? undefined
              : {
                  below: adding,
                  line: (
                    <QuickLine
                      input={midLine}
                      label="New step below this rung"
                      placeholder="A step in quick words"
                      onTake={(taken) => building.takeBelow(taken, adding)}
                      onList={building.setList}
                      onLeave={() => go(building.leaveAdding())}
                    />
                  ),
                }
          }
          foot={
            <QuickLine
              input={footLine}
              label="New step at the foot of the ladder"
              placeholder="Add a step: type it, or paste a list"
              onTake={building.takeAtFoot}
              onList={building.setList}
              onLeave={() => footLine.current?.blur()}
            />
          }
        />
        {isComparing && (
          <OrdersPanel
            draft={view}
            onPreview={setPreview}
            onChoose={(point, name) => {
              setPreview(undefined);
              ladder.takeOrder(point, name);
            }}
            onTake={ladder.takeSuggestion}
            onClose={() => compare(false)}
          />
        )}
        {chosen && !isComparing && (
          <Inspector
            key={chosen.key}
            draft={view}
            row={chosen}
            measured={taught}
            review={review ?? []}
            flaws={now.flaws.filter((flaw) => isOf(flaw, chosen, tree))}
            onMoveBy={(by) => moveBy(chosen.key, by)}
            onMoveTo={(target) => moveTo(chosen.key, () => target)}
            onTakeNewer={ladder.takeNewer}
            onChoose={go}
            onAct={building.act}
          />
        )}
      </div>
      {chosen && (
        <ReviewStrip
          draft={view}
          flaws={flaws}
          review={review}
          onGo={(path) => go(view.keys[path])}
          onGoToRow={go}
          onMend={ladder.mend}
        />
      )}
      <RailDialog host={building.railing?.host} onClose={building.closeRail} onChoose={building.chooseRail} />
      <ListDialog
        playbook={playbook.id}
        text={building.list}
        onText={building.setList}
        onClose={() => building.setList(undefined)}
        onTake={building.takeList}
      />
      <PublishDialog
        draft={view}
        review={review ?? []}
        flaws={flaws}
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
