import { useQuery } from "@tanstack/react-query";
import { conditionQuery } from "../api/conditions";
import { type Item, ROOT, type Tree } from "../draft/tree";
import { percent } from "../ui/format";
import { useSettled } from "../ui/useSettled";
import { fillers, offered, withBlanks } from "./blanks";
import { CompletedField } from "./Completed";
import { asKept, asTyped, completions } from "./conditionText";
import { useEditing } from "./Editing";
import { ChoiceField, type FieldPlace, partOf, ShareField } from "./Field";
import { refOf, set } from "./operations";

interface ConditionFieldProps {
  item: string;
  path?: readonly string[];
  label: string;
  isPlain?: boolean;
}

const WHEN = ["when"];

/** A condition with the titles of things, and live below it what it means and for how many units it holds. */
export const ConditionField = ({ item, path = WHEN, label, isPlain }: ConditionFieldProps) => {
  const { tree } = useEditing();
  const way = {
    read: (value: unknown) => (typeof value === "string" ? asTyped(value, tree) : ""),
    write: (text: string) => asKept(text, tree).trim() || null,
  };
  return (
    <CompletedField
      item={item}
      path={path}
      label={label}
      {...(isPlain && { isPlain })}
      placeholder="on every unit"
      tellsWrong
      way={way}
      offersAt={(text, cursor) => completions(text, cursor, tree)}
      below={(text) => text.trim() && <Means text={asKept(text, tree)} />}
    />
  );
};

const Means = ({ text }: { text: string }) => {
  const { playbookId, tree } = useEditing();
  const settled = useSettled(text);
  const { data } = useQuery({ ...conditionQuery(playbookId, settled ?? ""), enabled: settled !== undefined });
  if (!data || settled !== text) return <span className="text-faint">…</span>;
  if (data.wrong) {
    const from = data.at == null ? undefined : typedFrom(text, data.at, tree);
    return (
      <span className="text-clay">
        {data.wrong}
        {from !== undefined && (from ? `: “${from}”` : ": something is missing at the end")}
      </span>
    );
  }
  return (
    <span className="text-faint">
      only when {data.says}
      {data.share != null && `: ${percent(data.share)} of units`}
    </span>
  );
};

/** What stands from a character (from 1) of the kept text on, as it is typed. */
const typedFrom = (kept: string, at: number, tree: Tree): string => asTyped(kept.slice(at - 1), tree).slice(0, 60);

interface ProseFieldProps extends FieldPlace {
  label: string;
  isPlain?: boolean;
  placeholder?: string;
  /** The step whose values fill its blanks first. */
  step?: string;
  onKeyDown?: (event: React.KeyboardEvent<HTMLElement>) => void;
  onPaste?: (event: React.ClipboardEvent<HTMLElement>) => void;
}

/** A text that agents read, with blanks that are completed after a curly bracket. */
export const ProseField = ({ step, ...props }: ProseFieldProps) => {
  const { tree } = useEditing();
  const items = fillers(tree, step);
  return (
    <CompletedField
      {...props}
      way={withBlanks(items)}
      closing="}"
      offersAt={(text, cursor) => {
        const found = offered(text, cursor, items);
        return { from: (found?.from ?? -1) + 1, offers: (found?.titles ?? []).map((title) => ({ text: title })) };
      }}
    />
  );
};

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

export const titleIn = (item: Item): string => String(item.title ?? item.ask ?? "") || "without a title";

/** Something of this playbook, chosen by its title. */
export const RefField = ({ list, but, more = [], kinds, ...props }: RefFieldProps) => {
  const { tree } = useEditing();
  const items = tree
    .shown(ROOT, [list])
    .filter((one) => one.key !== but && (!kinds || kinds.includes(String(one.kind ?? "fix"))));
  const there = partOf(tree.value(props.item, props.path), props.part ?? []);
  const known = items.find((one) => there === one.id || there === one.key || there === one.name);
  const options = items.map((one) => ({ value: one === known ? String(there) : refOf(one), label: titleIn(one) }));
  return <ChoiceField {...props} options={[...more, ...options]} />;
};

const WORDS = ["nearly-always", "usually", "often", "sometimes", "rarely"];
const CHANCES = [
  ...WORDS.map((value) => ({ value, label: value.replace("-", " ") })),
  { value: "figure", label: "a figure" },
];
/** What a word stands for where somebody goes on from it to a figure. */
const FIGURES: Record<string, number> = {
  "nearly-always": 0.95,
  usually: 0.75,
  often: 0.5,
  sometimes: 0.25,
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
          draft.do([set(tree, item, path, next)], `${label} changed`);
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
