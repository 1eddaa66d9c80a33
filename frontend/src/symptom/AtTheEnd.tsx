import { refOf, textOf, titleOf } from "../draft/items";
import { ROOT } from "../draft/tree";
import { useEditing } from "../editing/fields/Editing";
import { ChoiceField, NumberField, TextField, TickField } from "../editing/fields/Field";
import { ItemList } from "../editing/fields/ItemList";
import { inserted, keyed, removed } from "../editing/fields/operations";
import { MODES } from "../editing/fields/words";
import { EffortFields } from "../editing/step/EffortFields";
import { InstructionEditor } from "../editing/step/InstructionEditor";
import { Folded } from "../editing/step/Section";
import { Part } from "./Part";

/** Where it ends, and what the lead reckons with. */
export const AtTheEnd = () => (
  <>
    <Part title="Handed off to">
      <ItemList at={{ parent: ROOT, path: ["hand_offs"] }} noun="team" nameOf={(one) => textOf(one, "title")}>
        {(team) => (
          <div className="border-rule border-l-2 pl-2">
            <span className="flex flex-wrap items-end gap-x-4">
              <span className="min-w-40 flex-1">
                <TextField item={team.key} path={["title"]} label="team" />
              </span>
              <TickField item={team.key} path={["default"]} label="takes what the ladder leaves" />
            </span>
            <EffortFields item={team.key} path={["effort"]} of="of handing off" />
            <Folded says="what it costs them" isOpen={team.theirs != null}>
              <EffortFields item={team.key} path={["theirs"]} part={[]} of="of theirs" />
            </Folded>
            <ToTell team={team.key} />
          </div>
        )}
      </ItemList>
    </Part>
    <Part title="One restart">
      <Restart />
    </Part>
    <Part title="What is reckoned with">
      <Reckoning />
    </Part>
  </>
);

/** What a team wants to be told: facts, values that are asked, and parts of messages. */
const ToTell = ({ team }: { team: string }) => {
  const { tree } = useEditing();
  const facts = tree.shown(ROOT, ["facts"]);
  const inputs = tree.shown(ROOT, ["steps"]).flatMap(({ key }) => tree.shown(key, ["inputs"]));
  const parts = tree
    .shown(ROOT, ["symptom", "signs"])
    .flatMap((sign) => [...textOf(sign, "text").matchAll(/\{([^{}]+)\}/g)].map(([, name]) => name ?? ""));
  const options = [
    ...[...facts, ...inputs].map((one) => ({ value: refOf(one), label: titleOf(one) })),
    ...parts.map((name) => ({ value: name, label: `“${name}” of the message` })),
  ];
  const known = [...new Map(options.map((one) => [one.value, one])).values()];
  return (
    <ItemList at={{ parent: team, path: ["tell"] }} noun="thing that they are told">
      {({ key }) => <ChoiceField item={key} path={["text"]} label="they are told" isPlain options={known} />}
    </ItemList>
  );
};

const Restart = () => {
  const { draft, tree } = useEditing();
  const [restart] = tree.shown(ROOT, ["restart"]);
  if (!restart) {
    return (
      <button
        type="button"
        className="link text-dense text-faint"
        onClick={() => draft.do([inserted(tree, { parent: ROOT, path: ["restart"] }, keyed({}))], "A restart added")}
      >
        say what a restart costs
      </button>
    );
  }
  return (
    <>
      <EffortFields item={restart.key} path={[]} of="of a restart" />
      <InstructionEditor at={{ parent: restart.key, path: ["do"] }} noun="thing to do in a restart" />
      <button
        type="button"
        className="link text-dense text-faint"
        onClick={() => draft.do([removed(tree, restart.key)], "The restart taken out")}
      >
        take the restart out
      </button>
    </>
  );
};

const WEIGHTS = [
  ["caller", "a minute of the caller"],
  ["desk", "a minute of the desk"],
  ["visit", "a minute of a visit"],
  ["wait", "a minute of waiting"],
  ["travel", "a minute of journey"],
  ["parts", "one unit of money in parts"],
] as const;
const USUAL: Record<string, string> = { visit: "1.5", wait: "0.25" };

const Reckoning = () => (
  <>
    <span className="flex flex-wrap items-end gap-x-4">
      <NumberField
        item={ROOT}
        path={["policy", "rate"]}
        label="minutes you would spend to avoid one harm point"
        placeholder="5"
        width="w-44"
      />
      <ChoiceField
        item={ROOT}
        path={["policy", "mode"]}
        label="best order"
        options={MODES}
        none="mildest first, as nothing is said"
      />
    </span>
    <fieldset className="mt-2">
      <legend className="text-dense text-faint">effort minutes that each counts</legend>
      <span className="flex flex-wrap items-end gap-x-4 gap-y-1">
        {WEIGHTS.map(([name, label]) => (
          <NumberField
            key={name}
            item={ROOT}
            path={["policy", "weights", name]}
            label={label}
            placeholder={USUAL[name] ?? "1"}
            width="w-28"
          />
        ))}
      </span>
    </fieldset>
  </>
);
