import { textOf, titleOf } from "../draft/items";
import { ROOT } from "../draft/tree";
import { PlaybookField } from "../editing/fields/Chosen";
import { useEditing } from "../editing/fields/Editing";
import { ChoiceField, NumberField, TextField } from "../editing/fields/Field";
import { ItemList, TextList } from "../editing/fields/ItemList";
import { PictureField } from "../editing/fields/PictureField";
import { ProseField } from "../editing/fields/Texts";
import { NAME } from "../editing/fields/ways";
import { SIGNS } from "../editing/fields/words";
import { Folded } from "../editing/step/Section";
import { Part } from "./Part";
import { Preventions } from "./Preventions";

const at = (...path: string[]) => ({ parent: ROOT, path: ["symptom", ...path] });

/** How one meets it. */
export const Met = () => (
  <>
    <Part title="What callers say">
      <TextField item={ROOT} path={["symptom", "says"]} label="What callers say" isPlain isLong isStrong />
      <TextField item={ROOT} path={["title"]} label="title of the symptom" />
    </Part>
    <Part title="It is this when you meet">
      <ItemList at={at("signs")} noun="sign" blank={() => ({ kind: "message" })} nameOf={(one) => textOf(one, "text")}>
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
      <ItemList at={at("see_also")} noun="look-alike" nameOf={(one) => textOf(one, "sign")}>
        {({ key }) => (
          <span className="flex flex-wrap items-end gap-x-3">
            <span className="min-w-40 flex-1">
              <TextField item={key} path={["sign"]} label="what one sees instead" isLong />
            </span>
            <PlaybookField item={key} path={["playbook"]} label="it belongs to" />
          </span>
        )}
      </ItemList>
    </Part>
    <Part title="Leave alone">
      <ItemList at={at("leave_alone")} noun="part to leave alone" nameOf={(one) => textOf(one, "what")}>
        {({ key }) => (
          <span className="flex flex-wrap items-end gap-x-3">
            <span className="min-w-32 flex-1">
              <ProseField item={key} path={["what"]} label="the part" />
            </span>
            <span className="min-w-48 flex-[2]">
              <ProseField item={key} path={["why"]} label="why it is not that" />
            </span>
          </span>
        )}
      </ItemList>
    </Part>
    <Part title="Not covered">
      <ProseField item={ROOT} path={["symptom", "not_covered"]} label="what this playbook is not for" isPlain />
    </Part>
    <Part title="What the fault takes away" says="no step may use it">
      <TextList at={at("lost")} noun="thing that is lost" label="lost" way={NAME} />
    </Part>
    <Part title="Trying again, and preventing">
      <Retest />
      <Preventions />
    </Part>
  </>
);

const MORE = ["catch", "points_to", "picture"];

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
          label={`times as likely: ${titleOf(cause)}`}
          width="w-40"
        />
      ))}
      <label className="min-w-0 max-w-full text-faint text-tiny">
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
                {titleOf(one)}
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
      <ProseField {...RETEST("how")} label="how the original action is tried again" />
    </span>
    <NumberField {...RETEST("hands_on")} label="minutes of trying" placeholder="0" />
    <NumberField {...RETEST("wait")} label="waiting for it" placeholder="0" />
  </span>
);
