import { useEditing } from "../fields/Editing";
import { ChoiceField, type FieldPlace, MinutesField, NumberField } from "../fields/Field";
import { set } from "../fields/operations";
import { addedIn } from "../fields/ways";
import { PERSONS } from "../fields/words";

interface EffortFieldsProps {
  item: string;
  /** Where the effort lies: its path, and the part of what is set as a whole there. */
  path: readonly string[];
  part?: readonly string[];
  /** What it is the effort of, for those who hear its labels alone. */
  of?: string;
}

/** Minutes of work, waiting and journey, money for parts, and whose they are. */
export const EffortFields = ({ item, path, part, of }: EffortFieldsProps) => {
  const { draft, tree } = useEditing();
  const at = (name: string): FieldPlace =>
    part ? { item, path, part: [...part, name] } : { item, path: [...path, name] };
  const named = (label: string) => (of ? `${label}, ${of}` : label);
  const addRest = (text: string) => {
    const said = addedIn(text).filter(([name, minutes]) => tree.value(item, [...path, name]) !== minutes);
    const more = said.map(([name, minutes]) => set(tree, item, [...path, name], minutes));
    if (more.length > 0) draft.do(more, named("Changed: waiting and the like"));
  };
  return (
    <span className="flex flex-wrap items-end gap-x-3 gap-y-1">
      <MinutesField
        {...at("hands_on")}
        label={named("minutes of work")}
        placeholder={part ? "0" : "3 + 8 wait"}
        onTyped={part ? undefined : addRest}
      />
      <NumberField {...at("wait")} label={named("waiting")} placeholder="0" />
      <NumberField {...at("travel")} label={named("journey")} placeholder="0" />
      <NumberField {...at("parts")} label={named("parts, money")} placeholder="0" />
      <ChoiceField {...at("by")} label={named("by")} options={PERSONS} none="the desk, as nothing is said" />
    </span>
  );
};
