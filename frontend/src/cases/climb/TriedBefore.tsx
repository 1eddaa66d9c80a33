import { type FormEvent, type RefObject, useState } from "react";
import type { ClimbView, Move } from "../../api/types";
import { Key } from "../../ui/Key";
import { type Before, readBefore } from "./before";

interface TriedBeforeProps {
  view: ClimbView;
  onRecord: (move: Move) => void;
  field: RefObject<HTMLTextAreaElement | null>;
}

/** What caller or machine did before the call is entered once, in the words it is told in, several things at a time,
 * and is then never asked for: steps of the ladder are known by their titles, the rest stays as it was told. */
export const TriedBefore = ({ view, onRecord, field }: TriedBeforeProps) => {
  const [text, setText] = useState("");
  const [asked, setAsked] = useState<Before[]>([]);
  const told = readBefore(text, view.untried);
  const record = (one: Before, finding?: string) =>
    onRecord(
      one.step
        ? { kind: "tried-before", step: one.step.id, ...(finding && { finding }) }
        : { kind: "tried-before", called: one.called },
    );
  const take = (event: FormEvent) => {
    event.preventDefault();
    for (const one of told.filter(({ step }) => !step?.findings.length)) record(one);
    setAsked([...asked, ...told.filter(({ step }) => step?.findings.length)]);
    setText("");
  };
  return (
    <form onSubmit={take}>
      <label htmlFor="tried-before" className="mb-1 block font-semibold">
        Done before the call <Key>t</Key>
      </label>
      {view.done_before.length > 0 && (
        <ul className="mb-1 text-dense">
          {view.done_before.map((says) => (
            <li key={says}>{says}</li>
          ))}
        </ul>
      )}
      <textarea
        ref={field}
        id="tried-before"
        rows={1}
        className="field field-sizing-content text-dense"
        placeholder="restarted it, changed the roll"
        maxLength={600}
        value={text}
        onChange={({ target }) => setText(target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || event.shiftKey || event.nativeEvent.isComposing) return;
          event.preventDefault();
          event.currentTarget.form?.requestSubmit();
        }}
      />
      {told.length > 0 && (
        <>
          <ul className="mt-1 text-dense">
            {told.map((one) => (
              <li key={one.called}>
                {one.step ? one.step.title : `“${one.called}”`}
                {!(one.step || one.or) && <span className="text-faint">, no step of this ladder</span>}
                {one.or && <Choice steps={one.or} onChoose={(title) => setText(text.replace(one.called, title))} />}
              </li>
            ))}
          </ul>
          <button type="submit" className="button mt-1 py-0.5 text-dense">
            Add {told.length === 1 ? "it" : `these ${told.length}`}
          </button>
        </>
      )}
      {told.length === 0 && view.untried.length > 0 && (
        <details className="mt-1 text-dense">
          <summary className="text-faint">or choose a step</summary>
          <Choice steps={view.untried} onChoose={setText} />
        </details>
      )}
      {asked.map((one) => (
        <select
          key={one.called}
          aria-label={`What it found: ${one.step?.title}`}
          className="field mt-1 text-dense"
          value=""
          onChange={({ target }) => {
            setAsked(asked.filter((other) => other !== one));
            record(one, target.value);
          }}
        >
          <option value="">{one.step?.title}: what did it find?</option>
          {one.step?.findings.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      ))}
    </form>
  );
};

/** Steps that may be meant: pressed, its title stands in the field. */
const Choice = ({ steps, onChoose }: { steps: ClimbView["untried"]; onChoose: (title: string) => void }) => (
  <ul className="ml-2">
    {steps.map(({ id, title }) => (
      <li key={id}>
        <button type="button" className="link text-left" onClick={() => onChoose(title)}>
          {title}
        </button>
      </li>
    ))}
  </ul>
);
