import { useQuery } from "@tanstack/react-query";
import { symptomsQuery } from "../../api/lists";
import { kindOf, refOf, titleOf } from "../../draft/items";
import { ROOT } from "../../draft/tree";
import { useEditing } from "./Editing";
import { ChoiceField, type FieldPlace, ShareField } from "./Field";
import { set } from "./operations";
import { partOf } from "./ways";

interface RefFieldProps extends FieldPlace {
  label: string;
  isPlain?: boolean;
  /** The list of the playbook among which it is chosen. */
  list: "steps" | "causes" | "footings" | "hand_offs" | "facts";
  none?: string;
  but?: string;
  more?: readonly { value: string; label: string }[];
  kinds?: readonly string[];
  onChoose?: (value: string | null) => boolean;
}

/** Something of this playbook, chosen by its title. */
export const RefField = ({ list, but, more = [], kinds, ...props }: RefFieldProps) => {
  const { tree } = useEditing();
  const items = tree.shown(ROOT, [list]).filter((one) => one.key !== but && (!kinds || kinds.includes(kindOf(one))));
  const there = partOf(tree.value(props.item, props.path), props.part ?? []);
  const known = there == null ? undefined : items.find(({ id, key, name }) => [id, key, name].includes(there));
  const options = items.map((one) => ({ value: one === known ? String(there) : refOf(one), label: titleOf(one) }));
  return <ChoiceField {...props} options={[...more, ...options]} />;
};

/** Another playbook of this desk; one that nobody has yet may stand there from a file. */
export const PlaybookField = (props: FieldPlace & { label: string; isPlain?: boolean }) => {
  const { tree, playbookId } = useEditing();
  const { data = [] } = useQuery(symptomsQuery);
  const there = tree.value(props.item, props.path);
  // A playbook looks like no other by being itself, and leads to none.
  const others = data.filter(({ id }) => id !== playbookId || id === there);
  const options = others.map(({ id, title }) => ({ value: id, label: title }));
  const isKnown = there == null || there === "" || options.some(({ value }) => value === there);
  const absent = isKnown ? [] : [{ value: String(there), label: `${String(there)}, which nobody has yet` }];
  return <ChoiceField {...props} options={[...options, ...absent]} />;
};

/** Where a case enters the other playbook that stands at the same place: at its top, or at one of its steps. */
export const EntryField = ({ item, label }: { item: string; label: string }) => {
  const { tree } = useEditing();
  const { data = [] } = useQuery(symptomsQuery);
  const other = data.find(({ id }) => id === tree.value(item, ["playbook"]));
  const there = tree.value(item, ["from"]);
  const options = (other?.steps ?? []).map(({ id, title }) => ({ value: id, label: title }));
  const isKnown = there == null || options.some(({ value }) => value === there);
  const absent = isKnown ? [] : [{ value: String(there), label: "a step that is not there any more" }];
  return <ChoiceField item={item} path={["from"]} label={label} options={[...options, ...absent]} none="at its top" />;
};

const WORDS = ["nearly-always", "usually", "often", "sometimes", "rarely"];
const CHANCES = [
  ...WORDS.map((value) => ({ value, label: value.replace("-", " ") })),
  { value: "figure", label: "a figure" },
];
/** What a word stands for, as figures are made with it: whoever goes on from it to a figure begins with the same. */
const FIGURES: Record<string, number> = {
  "nearly-always": 0.95,
  usually: 0.8,
  often: 0.6,
  sometimes: 0.35,
  rarely: 0.1,
};

interface ChanceFieldProps extends FieldPlace {
  label: string;
  isPlain?: boolean;
}

/** How often, as a word or as a figure. */
export const ChanceField = (props: ChanceFieldProps) => {
  const { draft, tree } = useEditing();
  const { item, path, label } = props;
  const there = tree.value(item, path);
  const isFigure = there != null && !WORDS.includes(String(there));
  return (
    <span className="flex items-baseline justify-end gap-2">
      {isFigure && <ShareField {...props} label={`${label}, per cent`} isPlain width="w-12" />}
      <ChanceChoice
        {...props}
        value={isFigure ? "figure" : String(there ?? "")}
        onChoose={(value) => {
          const next = value === "figure" ? (FIGURES[String(there)] ?? 0.5) : value;
          draft.do([set(tree, item, path, next)], `Changed: ${label}`);
        }}
      />
    </span>
  );
};

interface ChanceChoiceProps extends ChanceFieldProps {
  value: string;
  onChoose: (value: string | null) => void;
}

const ChanceChoice = ({ value, onChoose, label }: ChanceChoiceProps) => (
  <select
    aria-label={label}
    className="line max-w-full"
    value={value}
    onChange={({ target }) => onChoose(target.value || null)}
  >
    <option value="">never</option>
    {CHANCES.map((one) => (
      <option key={one.value} value={one.value}>
        {one.label}
      </option>
    ))}
  </select>
);
