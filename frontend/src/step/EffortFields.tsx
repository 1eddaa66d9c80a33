import { ChoiceField, type FieldPlace, NumberField } from "../fields/Field";
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
  const at = (name: string): FieldPlace =>
    part ? { item, path, part: [...part, name] } : { item, path: [...path, name] };
  const named = (label: string) => (of ? `${label}, ${of}` : label);
  return (
    <span className="flex flex-wrap items-end gap-x-3 gap-y-1">
      <NumberField {...at("hands_on")} label={named("minutes of work")} placeholder="0" width="w-24" />
      <NumberField {...at("wait")} label={named("waiting")} placeholder="0" />
      <NumberField {...at("travel")} label={named("journey")} placeholder="0" />
      <NumberField {...at("parts")} label={named("parts, money")} placeholder="0" />
      <ChoiceField {...at("by")} label={named("by")} options={PERSONS} none="the desk, as nothing is said" />
    </span>
  );
};
