import { useEffect } from "react";
import { useLocation, useParams } from "react-router";
import { textOf } from "../draft/items";
import { useDraft } from "../draft/useDraft";
import { DraftTrouble } from "../editing/DraftTrouble";
import { EditingPlace } from "../editing/fields/Editing";
import { Saved } from "../editing/SaveState";
import { UndoButton } from "../editing/UndoButton";
import { moveFocus } from "../ui/focus";
import { useTitle } from "../ui/Heading";
import { LoadFailed, Loading } from "../ui/States";
import { useKeys } from "../ui/useKeys";
import { AtTheEnd } from "./AtTheEnd";
import { Behind } from "./Behind";
import { Met } from "./Met";
import { InHead } from "./SymptomLayout";

/** What is known of a symptom before any step: how it is met, what may be behind it, and where it ends. */
export const SymptomPage = () => {
  const { playbookId = "" } = useParams();
  const { draft, now } = useDraft(playbookId);
  const undo = () => draft.undo();
  const redo = () => draft.redo();
  useKeys({ undo, redo });
  useItemOfAddress(now.tree !== undefined);
  const title = textOf(now.tree?.root, "title");
  useTitle("Symptom", title);
  if (!now.tree) {
    return now.error ? <LoadFailed error={now.error} onRetry={() => void draft.start()} /> : <Loading rows={9} />;
  }
  return (
    <EditingPlace draft={draft} tree={now.tree} flaws={now.flaws} playbookId={playbookId}>
      <InHead says={<Saved draft={draft} />}>
        <UndoButton label="Undo" change={now.undo} onClick={undo} />
        <UndoButton label="Redo" change={now.redo} onClick={redo} />
      </InHead>
      <DraftTrouble draft={draft} now={now} />
      <div className="min-h-0 flex-1 overflow-auto low:flex-none low:overflow-visible">
        <div className="grid lg:grid-cols-[minmax(0,11fr)_minmax(0,14fr)]">
          <div className="border-rule border-r px-6 py-4 max-md:px-4">
            <Met />
          </div>
          <div className="px-6 py-4 max-md:px-4">
            <Behind />
            <AtTheEnd />
          </div>
        </div>
      </div>
    </EditingPlace>
  );
};

/** Whoever comes by a link to one thing of the page finds the cursor in it. */
function useItemOfAddress(isThere: boolean): void {
  const { hash } = useLocation();
  const key = hash.slice(1);
  useEffect(() => {
    if (isThere && key) moveFocus({ item: key });
  }, [isThere, key]);
}
