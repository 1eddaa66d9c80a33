import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useId } from "react";
import { useParams } from "react-router";
import { ROOT } from "../draft/tree";
import { useDraft } from "../draft/useDraft";
import { DraftTrouble } from "../drafting/DraftTrouble";
import { savedInWords } from "../drafting/Standing";
import { EditingPlace, useEditing } from "../fields/Editing";
import { ChoiceField, NumberField, TextField, TickField } from "../fields/Field";
import { ItemList, TextList } from "../fields/ItemList";
import { inserted, keyed, refOf, removed } from "../fields/operations";
import { PictureField } from "../fields/PictureField";
import { ConditionField, ProseField, RefField, titleIn } from "../fields/Special";
import { LAYERS, MODES, SIGNS } from "../fields/words";
import { symptomsQuery } from "../shell/queries";
import { EffortFields } from "../step/EffortFields";
import { InstructionList } from "../step/Instructions";
import { Folded } from "../step/Section";
import { useTitle } from "../ui/Heading";
import { LoadFailed, Loading } from "../ui/States";
import { useKeys } from "../ui/useKeys";
import { CauseBar } from "./CauseBar";
import { FactShares } from "./FactShares";
import { FootingList } from "./Footings";
import { InHead } from "./SymptomLayout";

/** What is known of a symptom before any step: how it is met, what may be behind it, and where it ends. */
export const SymptomPage = () => {
  const { playbookId = "" } = useParams();
  const { draft, now } = useDraft(playbookId);
  const undo = () => draft.undo();
  const redo = () => draft.redo();
  useKeys({ undo, redo });
  const title = String(now.tree?.root.title ?? "");
  useTitle("Symptom", title);
  if (!now.tree) {
    return now.error ? <LoadFailed error={now.error} onRetry={() => void draft.start()} /> : <Loading rows={9} />;
  }
  return (
    <EditingPlace draft={draft} tree={now.tree} flaws={now.flaws} playbookId={playbookId}>
      <InHead says={<span role="status">{savedInWords(now)}</span>}>
        <button
          type="button"
          className="button"
          data-tone="quiet"
          disabled={!now.undo}
          title={now.undo?.label}
          onClick={undo}
        >
          Undo
        </button>
        <button
          type="button"
          className="button"
          data-tone="quiet"
          disabled={!now.redo}
          title={now.redo?.label}
          onClick={redo}
        >
          Redo
        </button>
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

const at = (...path: string[]) => ({ parent: ROOT, path: ["symptom", ...path] });

const Part = ({ title, says, children }: { title: string; says?: ReactNode; children: ReactNode }) => {
  const id = useId();
  return (
    <section aria-labelledby={id} className="mt-4 border-rule border-t pt-3 first:mt-0 first:border-t-0 first:pt-0">
      <h2 id={id} className="flex items-baseline gap-3 font-semibold">
        {title}
        {says && <span className="font-normal text-dense text-faint">{says}</span>}
      </h2>
      {children}
    </section>
  );
};

/** How one meets it. */
const Met = () => {
  const { tree } = useEditing();
  return (
    <>
      <Part title="What callers say">
        <TextField item={ROOT} path={["symptom", "says"]} label="What callers say" isPlain isLong isStrong />
        <TextField item={ROOT} path={["title"]} label="title of the symptom" />
      </Part>
      <Part title="It is this when you meet">
        <ItemList
          at={at("signs")}
          noun="sign"
          blank={() => ({ kind: "message" })}
          nameOf={(one) => String(one.text ?? "")}
        >
          {(sign) => (
            <div className="border-rule border-l-2 pl-2">
              <span className="flex flex-wrap items-end gap-x-3">
                <ChoiceField item={sign.key} path={["kind"]} label="sort of sign" options={SIGNS} />
                <span className="min-w-48 flex-1">
                  <TextField
                    item={sign.key}
                    path={["text"]}
                    label={sign.kind === "message" ? "the message; {a part} that changes" : "what it is"}
                    isMono={sign.kind !== "seen"}
                    isLong
                  />
                </span>
              </span>
              <Folded
                says="how to get to see it, what it points to, a picture"
                isOpen={MORE.some((one) => sign[one] != null)}
              >
                <TextField item={sign.key} path={["catch"]} label="how to get to see it" isLong />
                <PointsTo sign={sign.key} />
                <PictureField item={sign.key} path={["picture"]} label="picture of the sign" />
              </Folded>
            </div>
          )}
        </ItemList>
      </Part>
      <Part title="Something else when">
        <ItemList at={at("see_also")} noun="look-alike" nameOf={(one) => String(one.sign ?? "")}>
          {({ key }) => (
            <span className="flex flex-wrap items-end gap-x-3">
              <span className="min-w-40 flex-1">
                <TextField item={key} path={["sign"]} label="what one sees instead" isLong />
              </span>
              <PlaybookField item={key} />
            </span>
          )}
        </ItemList>
      </Part>
      <Part title="Leave alone">
        <ItemList at={at("leave_alone")} noun="part to leave alone" nameOf={(one) => String(one.what ?? "")}>
          {({ key }) => (
            <span className="flex flex-wrap items-end gap-x-3">
              <span className="min-w-32 flex-1">
                <TextField item={key} path={["what"]} label="the part" />
              </span>
              <span className="min-w-48 flex-[2]">
                <TextField item={key} path={["why"]} label="why it is not that" isLong />
              </span>
            </span>
          )}
        </ItemList>
      </Part>
      <Part title="Not covered">
        <ProseField item={ROOT} path={["symptom", "not_covered"]} label="what this playbook is not for" isPlain />
      </Part>
      <Part title="What the fault takes away" says="no step may use it">
        <TextList at={at("lost")} noun="thing that is lost" label="lost" />
      </Part>
      <Part title="Trying again, and preventing">
        <Retest />
        <ItemList at={{ parent: ROOT, path: ["after_fix"] }} noun="prevention" nameOf={(one) => String(one.step ?? "")}>
          {({ key }) => (
            <span className="flex flex-wrap items-end gap-x-3">
              <RefField
                item={key}
                path={["step"]}
                label="offered once it is resolved"
                list="steps"
                kinds={["prevention"]}
              />
              <span className="min-w-48 flex-1">
                <ConditionField item={key} label="offered only when" />
              </span>
            </span>
          )}
        </ItemList>
        {tree.shown(ROOT, ["steps"]).every((one) => one.kind !== "prevention") && <NewPrevention />}
      </Part>
    </>
  );
};

const MORE = ["catch", "points_to", "picture"];

/** A prevention stands on no rung: its step is made here. */
const NewPrevention = () => {
  const { draft, tree } = useEditing();
  const make = () => {
    const step = keyed({ kind: "prevention" });
    draft.do([inserted(tree, { parent: ROOT, path: ["steps"] }, step)], "A prevention made");
  };
  return (
    <button type="button" className="link ml-3 text-dense text-faint" onClick={make}>
      make a step that prevents it
    </button>
  );
};

const PlaybookField = ({ item }: { item: string }) => {
  const { data } = useQuery(symptomsQuery);
  const options = (data ?? []).map(({ id, title }) => ({ value: id, label: title }));
  return <ChoiceField item={item} path={["playbook"]} label="it belongs to" options={options} />;
};

/** How many times likelier causes are where a sign is seen. */
const PointsTo = ({ sign }: { sign: string }) => {
  const { draft, tree } = useEditing();
  const causes = tree.shown(ROOT, ["causes"]);
  const said = causes.filter(({ key }) => tree.value(sign, ["points_to", key]) != null);
  return (
    <span className="flex flex-wrap items-end gap-x-3 text-dense">
      {said.map((cause) => (
        <NumberField
          key={cause.key}
          item={sign}
          path={["points_to", cause.key]}
          label={`times as likely: ${titleIn(cause)}`}
          width="w-40"
        />
      ))}
      <label className="text-faint text-tiny">
        it points to
        <select
          className="line block"
          value=""
          onChange={({ target }) =>
            draft.do(
              [{ op: "set", key: sign, path: ["points_to", target.value], was: null, value: 3 }],
              "A sign points to a cause",
            )
          }
        >
          <option value="">a cause …</option>
          {causes
            .filter((one) => !said.includes(one))
            .map((one) => (
              <option key={one.key} value={one.key}>
                {titleIn(one)}
              </option>
            ))}
        </select>
      </label>
    </span>
  );
};

const RETEST = (name: string) => ({ item: ROOT, path: ["retest"], part: [name] });

const Retest = () => (
  <span className="flex flex-wrap items-end gap-x-3">
    <span className="min-w-48 flex-1">
      <TextField {...RETEST("how")} label="how the original action is tried again" isLong />
    </span>
    <NumberField {...RETEST("hands_on")} label="minutes of trying" placeholder="0" />
    <NumberField {...RETEST("wait")} label="waiting for it" placeholder="0" />
  </span>
);

/** What may be behind it, and what is asked about the unit. */
const Behind = () => (
  <>
    <Part title="Suspected causes" says="drag a border to share anew, or type how common each is">
      <CauseBar />
      <p aria-hidden="true" className="flex gap-x-3 pr-6 text-faint text-tiny">
        <span className="flex-1" />
        <span className="w-24">where it sits</span>
        <span className="w-20">how common</span>
      </p>
      <ItemList
        at={{ parent: ROOT, path: ["causes"] }}
        noun="cause"
        blank={() => ({ layer: "hardware" })}
        nameOf={(one) => String(one.title ?? "")}
      >
        {(cause) => (
          <>
            <span className="flex items-end gap-x-3">
              <span className="min-w-40 flex-1">
                <TextField item={cause.key} path={["title"]} label="cause" isPlain isStrong />
              </span>
              <ChoiceField
                item={cause.key}
                path={["layer"]}
                label="where it sits"
                isPlain
                options={LAYERS}
                width="w-24"
              />
              <NumberField item={cause.key} path={["weight"]} label="how common" isPlain placeholder="1" width="w-20" />
            </span>
            <div className="ml-4">
              <ItemList at={{ parent: cause.key, path: ["likelier"] }} noun="sort of unit where it is likelier" isQuiet>
                {({ key }) => (
                  <span className="flex flex-wrap items-end gap-x-3">
                    <NumberField item={key} path={["times"]} label="times as likely" />
                    <span className="min-w-48 flex-1">
                      <ConditionField item={key} label="where" />
                    </span>
                  </span>
                )}
              </ItemList>
            </div>
          </>
        )}
      </ItemList>
    </Part>
    <Part title="What is asked about the unit">
      <FactShares />
    </Part>
    <Part title="States that steps need">
      <FootingList />
    </Part>
  </>
);

/** Where it ends, and what the lead reckons with. */
const AtTheEnd = () => (
  <>
    <Part title="Handed off to">
      <ItemList at={{ parent: ROOT, path: ["hand_offs"] }} noun="team" nameOf={(one) => String(one.title ?? "")}>
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
    .flatMap((sign) => [...String(sign.text ?? "").matchAll(/\{([^{}]+)\}/g)].map(([, name]) => name ?? ""));
  const options = [
    ...[...facts, ...inputs].map((one) => ({ value: refOf(one), label: titleIn(one) })),
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
      <InstructionList at={{ parent: restart.key, path: ["do"] }} noun="thing to do in a restart" />
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
        label="minutes that avoiding one harm point is worth"
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
