import { type ReactNode, type RefObject, useRef, useState } from "react";
import { Link } from "react-router";
import type { ClimbView, Move } from "../api/types";
import { onDay, percent } from "../ui/format";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";

interface SideNotesProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
}

const MOST_LIKELY = 6;
const MOST_EARLIER = 4;

/** What is known beside the current step: causes still likely, facts, what was tried before, notes. */
export const SideNotes = ({ view, onRecord }: SideNotesProps) => {
  const note = useRef<HTMLTextAreaElement>(null);
  const before = useRef<HTMLSelectElement>(null);
  const isOpen = view.place !== "ended";
  useKeys({ m: () => note.current?.focus(), t: () => before.current?.focus() });
  return (
    <aside
      aria-label="Known of the case"
      className="space-y-5 overflow-auto border-rule border-l px-5 py-5 max-md:border-t max-md:border-l-0"
    >
      <Part title="Still likely">
        <ul className="space-y-1">
          {view.likely.slice(0, MOST_LIKELY).map((cause) => (
            <li
              key={cause.cause}
              className="grid grid-cols-[minmax(0,1fr)_3rem_2.75rem] items-baseline gap-2 text-dense"
            >
              <span>{cause.title}</span>
              <span aria-hidden="true" className="h-1.5">
                <span className="block h-full bg-plum" style={{ width: `${cause.share * 100}%` }} />
              </span>
              <span className="text-right">{percent(cause.share)}</span>
            </li>
          ))}
        </ul>
      </Part>
      <Part title="Known">
        {view.said && <p className="mb-2 text-dense">“{view.said}”</p>}
        <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 gap-y-1 text-dense">
          {view.unit && <Pair name="Unit">{view.unit}</Pair>}
          {view.known.map(({ fact, ask, value }) => (
            <Pair key={fact} name={ask}>
              {value}
            </Pair>
          ))}
        </dl>
      </Part>
      {view.history.length > 0 && (
        <Part title="This unit before">
          <ul className="space-y-1 text-dense">
            {view.history.slice(0, MOST_EARLIER).map((earlier) => (
              <li key={earlier.case}>
                <Link to={`/cases/${earlier.case}`} className="link" target="_blank">
                  {onDay(earlier.closed)}
                </Link>{" "}
                {earlier.ended_by ?? <span className="text-faint">not ended here</span>}
              </li>
            ))}
          </ul>
          {view.history.length > MOST_EARLIER && (
            <p className="text-dense text-faint">and {view.history.length - MOST_EARLIER} before that</p>
          )}
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
      {isOpen && view.untried.length > 0 && <TriedBefore view={view} onRecord={onRecord} field={before} />}
      <Part title="Notes">
        {view.notes.map((text, number) => (
          <p key={number} className="mb-1 whitespace-pre-line text-dense">
            {text}
          </p>
        ))}
        {isOpen && <NoteField onRecord={onRecord} field={note} />}
      </Part>
    </aside>
  );
};

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section>
    <h2 className="mb-1 font-semibold">{title}</h2>
    {children}
  </section>
);

const Pair = ({ name, children }: { name: string; children: string }) => (
  <div className="contents">
    <dt className="text-faint">{name}</dt>
    <dd>{children}</dd>
  </div>
);

interface TriedBeforeProps extends SideNotesProps {
  field: RefObject<HTMLSelectElement | null>;
}

/** What caller or machine did before the call is entered once, and is then never asked for. */
const TriedBefore = ({ view, onRecord, field }: TriedBeforeProps) => (
  <section>
    <label htmlFor="tried-before" className="mb-1 block font-semibold">
      Tried before the call <Key>t</Key>
    </label>
    <select
      ref={field}
      id="tried-before"
      className="field text-dense"
      value=""
      onChange={(event) => event.target.value && onRecord({ kind: "tried-before", step: event.target.value })}
    >
      <option value="">Choose what was tried in vain</option>
      {view.untried.map(({ id, title }) => (
        <option key={id} value={id}>
          {title}
        </option>
      ))}
    </select>
  </section>
);

interface NoteFieldProps {
  onRecord: (move: Move) => void;
  field: RefObject<HTMLTextAreaElement | null>;
}

const NoteField = ({ onRecord, field }: NoteFieldProps) => {
  const [text, setText] = useState("");
  const keep = () => {
    if (!text.trim()) return;
    onRecord({ kind: "note", text: text.trim() });
    setText("");
  };
  return (
    <>
      <label htmlFor="note" className="label">
        What the next person should know <Key>m</Key>
      </label>
      <textarea
        ref={field}
        id="note"
        className="field text-dense"
        rows={2}
        maxLength={4000}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.shiftKey) {
            event.preventDefault();
            keep();
          }
          if (event.key === "Escape") event.currentTarget.blur();
        }}
      />
    </>
  );
};
