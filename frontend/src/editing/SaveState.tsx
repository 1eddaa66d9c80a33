import { useSyncExternalStore } from "react";
import type { DraftView } from "../api/types";
import type { Draft } from "../draft/draft";
import type { DraftState, EditView } from "../draft/state";
import { moment, plural } from "../ui/format";

interface SaveStateProps {
  view: DraftView;
  now: DraftState;
  draft: Draft;
}

/** How the draft stands, in the head: published, saved, who else is here, and what they just did and where. */
export const SaveState = ({ view, now, draft }: SaveStateProps) => (
  <>
    {view.published ? `edition ${view.published.number}` : "not published yet"}
    {view.published && <span className="lg:max-xl:hidden"> since {moment(view.published.at)}</span>}
    {" · "}
    <Saved draft={draft} />
    {now.here.length > 0 && ` · ${listed(now.here)} ${now.here.length === 1 ? "is" : "are"} here too`}
    {now.others && <Others edit={now.others} />}
  </>
);

/** Whether all is saved, told with every key: a page that is drawn later must not say so before it is. */
export const Saved = ({ draft }: { draft: Draft }) => {
  const now = useSyncExternalStore(draft.subscribe, draft.state);
  // That all goes well is there to be read; only what is held up is spoken.
  return (
    <span role="status" aria-live={now.held === undefined ? "off" : "polite"}>
      {savedInWords(now)}
    </span>
  );
};

const Others = ({ edit }: { edit: EditView }) => (
  <span className="text-brass">
    {" · "}
    {edit.who}: {edit.label}
  </span>
);

function savedInWords({ waiting, held, saved }: DraftState): string {
  if (held !== undefined && waiting > 0) return `kept here, not yet sent (${waiting})`;
  if (waiting > 0) return "saving …";
  return saved ? `saved ${moment(saved.at)} by ${saved.who}` : "saved";
}

export const unsentInWords = (waiting: number) => `${plural(waiting, "change")} kept here, not yet sent`;

const listed = (names: readonly string[]) =>
  names.length < 2 ? (names[0] ?? "") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
