import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import type { DraftView, EditionView } from "../../api/types";
import type { DraftState } from "../../draft/state";
import { DraftTrouble } from "../../editing/DraftTrouble";
import { moment, points, tenths } from "../../ui/format";
import { useTitle } from "../../ui/Heading";
import { Empty, LoadFailed, Loading } from "../../ui/States";
import { say } from "../../ui/say";
import { compareQuery } from "../comparison/queries";
import { Figures, Sentences } from "../comparison/Sentences";
import { useDraftView } from "../ladder/useLadder";
import { InHead } from "../SymptomLayout";
import { editionsQuery } from "./queries";
import { ReplayPanel } from "./ReplayPanel";
import { SideBySide } from "./SideBySide";
import { TwoTapers } from "./TwoTapers";

/** Every edition in time, what changed between any two, and the way back to one. */
export const EditionsPage = () => {
  const { playbookId = "" } = useParams();
  const draft = useDraftView(playbookId);
  const editions = useQuery(editionsQuery(playbookId));
  const { view } = draft;
  const error = draft.error ?? editions.error;
  if (!view || !editions.data) {
    return error ? (
      <LoadFailed
        error={error}
        onRetry={() => {
          draft.retry();
          void editions.refetch();
        }}
      />
    ) : (
      <Loading rows={6} />
    );
  }
  return <Editions key={playbookId} view={view} editions={editions.data.editions} draft={draft} />;
};

interface EditionsProps {
  view: DraftView;
  editions: EditionView[];
  draft: ReturnType<typeof useDraftView>;
}

const Editions = ({ view, editions, draft }: EditionsProps) => {
  const [newest, second] = editions;
  const [after, setAfter] = useState(view.is_published && newest ? String(newest.number) : "draft");
  const [before, setBefore] = useState(String((view.is_published ? second : newest)?.number ?? "draft"));
  useTitle("Editions", view.playbook.title);
  // While edits still go to the server, each makes a state of its own: the last of them is what is compared.
  const settled = useRef(view.revision);
  if (!draft.now.isAhead) settled.current = view.revision;
  const documents = ["draft", ...editions.map(({ number }) => String(number))];
  const restore = (number: number) => {
    const isAsked = draft.draft.ask({ kind: "edition", edition: number }, `Edition ${number} brought back`);
    if (isAsked) say(`Edition ${number} is the draft again; undo brings back what was`);
  };
  return (
    <>
      <InHead
        says={
          editions.length === 0
            ? "not published yet"
            : `${editions.length} ${editions.length === 1 ? "edition" : "editions"}`
        }
      />
      <DraftTrouble draft={draft.draft} now={draft.now} />
      {editions.length === 0 ? (
        <Empty title="Nothing is published yet">
          Publish the draft on its Ladder page, and its edition stands here.
        </Empty>
      ) : (
        <div className="flex min-h-0 flex-1 max-lg:block max-lg:overflow-auto">
          <Timeline view={view} saved={draft.now.saved} editions={editions} onRestore={restore} />
          <section aria-label="Comparison" className="min-w-0 flex-1 overflow-auto px-6 py-4 max-lg:overflow-visible">
            <div className="flex items-end gap-3">
              <Choice label="From" value={before} documents={documents} onChange={setBefore} />
              <Choice label="To" value={after} documents={documents} onChange={setAfter} />
            </div>
            <Compared playbookId={view.playbook.id} before={before} after={after} revision={settled.current} />
          </section>
        </div>
      )}
    </>
  );
};

interface TimelineProps {
  view: DraftView;
  saved: DraftState["saved"];
  editions: EditionView[];
  onRestore: (number: number) => void;
}

const Timeline = ({ view, saved, editions, onRestore }: TimelineProps) => (
  <section
    aria-label="Timeline"
    className="w-96 shrink-0 overflow-auto border-rule border-r px-6 py-4 max-lg:w-full max-lg:overflow-visible max-lg:border-r-0"
  >
    <ol className="border-rail border-l-2 pl-5">
      <li className="pb-5">
        <p className="font-semibold text-brass">Draft</p>
        <p className="text-dense text-faint">
          {view.is_published || !saved ? "as published" : `${saved.label}, ${moment(saved.at)}, ${saved.who}`}
        </p>
      </li>
      {editions.map((edition) => (
        <li key={edition.number} className="pb-5">
          <p className="font-semibold">Edition {edition.number}</p>
          <p className="text-dense text-faint">
            {moment(edition.at)}, {edition.who}
          </p>
          <p className="text-dense">{edition.note}</p>
          <p className="text-dense text-faint">
            {tenths(edition.forecast.effort)} min and {points(edition.forecast.harm)} harm a case
          </p>
          <button type="button" className="link text-dense" onClick={() => onRestore(edition.number)}>
            Make it the draft again
          </button>
        </li>
      ))}
    </ol>
  </section>
);

interface ChoiceProps {
  label: string;
  value: string;
  documents: string[];
  onChange: (value: string) => void;
}

const Choice = ({ label, value, documents, onChange }: ChoiceProps) => (
  <label className="block">
    <span className="label">{label}</span>
    <select className="field" value={value} onChange={(event) => onChange(event.target.value)}>
      {documents.map((name) => (
        <option key={name} value={name}>
          {name === "draft" ? "the draft" : `edition ${name}`}
        </option>
      ))}
    </select>
  </label>
);

interface ComparedProps {
  playbookId: string;
  before: string;
  after: string;
  revision: number;
}

const Compared = ({ playbookId, before, after, revision }: ComparedProps) => {
  const { data, error, refetch } = useQuery(compareQuery(playbookId, before, after, revision));
  if (!data) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading rows={4} />;
  const isSame = before === after || data.sentences.length === 0;
  const ofDraft = [before, after].includes("draft") ? revision : undefined;
  return (
    <div className="mt-5 flex gap-8 max-lg:flex-col">
      <TwoTapers before={data.before} after={data.after} />
      <div className="min-w-0 max-w-3xl">
        <div className="max-w-prose space-y-4">
          {!isSame && <Figures comparison={data} />}
          <Sentences comparison={data} />
        </div>
        {!isSame && (
          <ReplayPanel playbookId={playbookId} before={before} after={after} revision={ofDraft} comparison={data} />
        )}
        <SideBySide playbookId={playbookId} before={before} after={after} />
      </div>
    </div>
  );
};
