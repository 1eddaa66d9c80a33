import { useState } from "react";
import { refOf, titleOf } from "../../draft/items";
import { ROOT } from "../../draft/tree";
import { EntryField, PlaybookField, RefField } from "../../editing/fields/Chosen";
import { useEditing } from "../../editing/fields/Editing";
import { ChoiceField, TickField } from "../../editing/fields/Field";
import { removed, stepOf } from "../../editing/fields/operations";
import { PINS } from "../../editing/fields/words";
import { Section } from "../../editing/step/Section";
import { above, grouped, newRung, railEnd, rungFor } from "./building";
import { railNames } from "./RailDialog";
import { railInWords, railsOf } from "./shown";

interface RungProps {
  rung: string;
  onChoose: (key: string) => void;
}

/** Where a rung may stand: with which others, whether first or last, whether it may be left out. */
export const PlaceSection = ({ rung }: RungProps) => {
  const { tree } = useEditing();
  const item = tree.item(rung);
  const says = [item.trial, item.keep, item.pin, item.optional].filter((one) => one != null).length;
  return (
    <Section title="Place" isSaying={says > 0}>
      <Together rung={rung} field="trial" label="tested together with the rung above" />
      <Together rung={rung} field="keep" label="stays right below the rung above" />
      <RefField item={rung} path={["step"]} label="the step on this rung" list="steps" />
      <TickField item={rung} path={["optional"]} label="may be left out of the best order" />
      <ChoiceField item={rung} path={["pin"]} label="its place is" options={PINS} none="wherever it is best" />
    </Section>
  );
};

const Together = ({ rung, field, label }: { rung: string; field: "trial" | "keep"; label: string }) => {
  const { draft, tree } = useEditing();
  const host = above(tree, rung);
  const mine = tree.value(rung, [field]);
  const isTogether = mine != null && host?.[field] === mine;
  const toggle = () => {
    if (!host) return;
    draft.do(grouped(tree, isTogether ? [rung] : [host.key, rung], field, !isTogether), `${label}: changed`);
  };
  return (
    <label className="flex items-baseline gap-1.5 text-dense">
      <input type="checkbox" checked={isTogether} disabled={!host} onChange={toggle} />
      {label}
    </label>
  );
};

/** The side rails that hang on a rung, what each holds, and a new one. */
export const RailsSection = ({ rung, onChoose }: RungProps) => {
  const { draft, tree } = useEditing();
  const rails = railsOf(tree, tree.item(rung));
  return (
    <Section title="Side rails" isSaying={rails.length > 0} says={rails.length || undefined}>
      {rails.map(({ name, says, entries }) => (
        <div key={name} className="text-dense">
          <p className="text-brass">{says}</p>
          <ol className="ml-2">
            {entries.map((entry) => (
              <li key={entry.key} className="flex items-baseline justify-between gap-2">
                {entry.hand_off != null ? (
                  <RefField item={entry.key} path={["hand_off"]} label="handed off to" list="hand_offs" />
                ) : entry.playbook != null ? (
                  <span className="flex min-w-0 flex-wrap items-end gap-x-3">
                    <PlaybookField item={entry.key} path={["playbook"]} label="goes on in the playbook" />
                    <EntryField item={entry.key} label="entered at" />
                  </span>
                ) : entry.again === true ? (
                  <span>the step is offered once more</span>
                ) : (
                  <button type="button" className="link text-left" onClick={() => onChoose(entry.key)}>
                    {titleOf(stepOf(tree, entry) ?? { key: "" })}
                  </button>
                )}
                <button
                  type="button"
                  className="text-faint hover:text-clay"
                  aria-label={`Take ${entryInWords(entry, tree)} out of the rail`}
                  onClick={() => draft.do([removed(tree, entry.key)], "Taken out of a rail")}
                >
                  ×
                </button>
              </li>
            ))}
          </ol>
        </div>
      ))}
      <NewEntry rung={rung} onChoose={onChoose} />
    </Section>
  );
};

function entryInWords(
  entry: { key: string; [name: string]: unknown },
  tree: ReturnType<typeof useEditing>["tree"],
): string {
  if (entry.hand_off != null) return "the hand-off";
  if (entry.playbook != null) return "the other playbook";
  return entry.again === true ? "the second offer" : titleOf(stepOf(tree, entry) ?? { key: "" });
}

/** One more thing on a rail: a step, a team, another playbook, or the step once more. */
const NewEntry = ({ rung, onChoose }: RungProps) => {
  const { draft, tree } = useEditing();
  const opens = railNames(rung, tree);
  const [name, setName] = useState("");
  const [what, setWhat] = useState("new");
  const opened = opens.includes(name) ? name : (opens[0] ?? "could-not");
  const add = () => {
    const at = { parent: rung, path: ["on", opened] };
    if (what === "new" || what.startsWith("step ")) {
      const last = tree.children(rung, at.path).at(-1)?.key ?? null;
      const built = what === "new" ? newRung(tree, {}, at, last) : rungFor(tree, what.slice(5), at, last);
      if (draft.do(built.operations, "A rung put into a rail")) onChoose(built.rung);
    } else {
      const end =
        what === "again" ? { again: true } : what === "playbook" ? { playbook: "" } : { hand_off: what.slice(9) };
      draft.do([railEnd(tree, end, at)], "The end of a rail added");
    }
  };
  return (
    <div className="mt-1 flex flex-wrap items-end gap-2 text-dense">
      <label className="min-w-0 max-w-full text-faint text-tiny">
        after it finds, or ends in
        <select className="line block max-w-full" value={opened} onChange={({ target }) => setName(target.value)}>
          {opens.map((one) => (
            <option key={one} value={one}>
              {railInWords(tree, one)}
            </option>
          ))}
        </select>
      </label>
      <label className="min-w-0 max-w-full text-faint text-tiny">
        comes
        <select className="line block max-w-full" value={what} onChange={({ target }) => setWhat(target.value)}>
          <option value="new">a new step</option>
          <option value="again">the step once more</option>
          <option value="playbook">another playbook</option>
          {tree.shown(ROOT, ["hand_offs"]).map((one) => (
            <option key={one.key} value={`hand-off ${refOf(one)}`}>
              hand-off to {titleOf(one)}
            </option>
          ))}
          {tree.shown(ROOT, ["steps"]).map((one) => (
            <option key={one.key} value={`step ${refOf(one)}`}>
              {titleOf(one)}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="button" onClick={add}>
        Add to the rail
      </button>
    </div>
  );
};
