import { type ReactNode, useRef } from "react";
import { Link } from "react-router";
import type { ClimbView, Move } from "../../api/types";
import type { Unsent } from "../../shell/outbox/storage";
import { atClock, onDay } from "../../ui/format";
import { useKeys } from "../../ui/useKeys";
import { KnownFacts, knownOf } from "./KnownFacts";
import { NoteField } from "./NoteField";
import { SeenSign } from "./SeenSign";
import { StillLikely } from "./StillLikely";
import { TriedBefore } from "./TriedBefore";

interface SideNotesProps {
  view: ClimbView;
  unsent: readonly Unsent[];
  onRecord: (move: Move) => void;
  children?: ReactNode;
}

const MOST_EARLIER = 4;

/** What is known beside the current step: causes still likely, facts, what was tried before, notes. */
export const SideNotes = ({ view, unsent, onRecord, children }: SideNotesProps) => {
  const note = useRef<HTMLTextAreaElement>(null);
  const before = useRef<HTMLTextAreaElement>(null);
  const isOpen = view.place !== "ended";
  // Before the first rung they stand in the middle, each with how to get to see it.
  const signs = isOpen && view.place !== "baseline" ? view.signs.filter(({ kind }) => kind === "seen") : [];
  useKeys({ note: () => note.current?.focus(), tried: () => before.current?.focus() });
  return (
    <aside
      aria-label="Known of the case"
      className="col-start-3 row-[1/-1] space-y-5 overflow-auto max-lg:col-start-2 border-rule border-l px-5 py-5 max-md:border-t max-md:border-l-0"
    >
      <Part title="Still likely">
        <StillLikely causes={view.likely} />
      </Part>
      <Part title="Known" isEmpty={!(view.said || view.reopened_from || view.unit || knownOf(view).length)}>
        {view.said && <p className="mb-2 text-dense">“{view.said}”</p>}
        {view.reopened_from && (
          <p className="mb-2 text-dense">
            Came back after{" "}
            <Link to={`/cases/${view.reopened_from}`} className="link" target="_blank">
              {view.reopened_from}
            </Link>
          </p>
        )}
        <KnownFacts view={view} onRecord={onRecord} />
      </Part>
      {signs.length > 0 && (
        <Part title="Can be seen">
          <ul className="space-y-1.5 text-dense">
            {signs.map((sign) => (
              <li key={sign.text}>
                {sign.text}
                <SeenSign sign={sign} onRecord={onRecord} />
              </li>
            ))}
          </ul>
        </Part>
      )}
      {view.history.length > 0 && (
        <Part title="This unit before">
          <ul className="space-y-1 text-dense">
            {view.history.slice(0, MOST_EARLIER).map((earlier) => (
              <li key={earlier.case}>
                <Link to={`/cases/${earlier.case}`} className="link" target="_blank">
                  {onDay(earlier.closed)}
                </Link>{" "}
                {earlier.ended_by ?? <span className="text-faint">not resolved here</span>}
              </li>
            ))}
          </ul>
          {view.history.length > MOST_EARLIER && (
            <p className="text-dense text-faint">and {view.history.length - MOST_EARLIER} before that</p>
          )}
        </Part>
      )}
      {view.off_ladder.length > 0 && (
        <Part title="Off the ladder">
          {view.off_ladder.map((says, number) => (
            <p key={number} className="text-dense">
              {says}
            </p>
          ))}
        </Part>
      )}
      {view.new_since.length > 0 && (
        <Part title="New since you last followed it">
          {view.new_since.map(({ step, says }) => (
            <p key={step} className="text-dense">
              {says}
            </p>
          ))}
        </Part>
      )}
      {view.hands.length > 1 && (
        <Part title="Who had it">
          {view.hands.map(({ name, since }) => (
            <p key={since} className="text-dense">
              {name} <span className="text-faint">from {atClock(since)}</span>
            </p>
          ))}
        </Part>
      )}
      {view.loose_ends.length > 0 && (
        <Part title="Loose ends">
          <ul className="space-y-1 text-dense">
            {view.loose_ends.map(({ id, title, why_left }) => (
              <li key={id}>
                {title} <span className="text-faint">{why_left ? `stays open: ${why_left}` : ""}</span>
              </li>
            ))}
          </ul>
        </Part>
      )}
      {isOpen && <TriedBefore view={view} onRecord={onRecord} field={before} />}
      <Part title="Notes">
        {view.notes.map((text, number) => (
          <p key={number} className="mb-1 whitespace-pre-line text-dense">
            {text}
          </p>
        ))}
        {unsent.map(
          ({ key, move }) =>
            move.kind === "note" && (
              <p key={key} className="mb-1 whitespace-pre-line text-dense text-faint">
                {move.text} · being sent
              </p>
            ),
        )}
        {isOpen && <NoteField climbId={view.id} onRecord={onRecord} field={note} />}
      </Part>
      {children}
    </aside>
  );
};

const Part = ({ title, isEmpty = false, children }: { title: string; isEmpty?: boolean; children: ReactNode }) => (
  <section hidden={isEmpty}>
    <h2 className="mb-1 font-semibold">{title}</h2>
    {children}
  </section>
);
