import { useQuery } from "@tanstack/react-query";
import { conditionQuery } from "../../api/conditions";
import type { Tree } from "../../draft/tree";
import { percent } from "../../ui/format";
import { useSettled } from "../../ui/useSettled";
import { fillers, offered, withBlanks } from "./blanks";
import { CompletedField } from "./Completed";
import { asKept, asTyped, completions } from "./conditionText";
import { useEditing } from "./Editing";
import type { FieldPlace } from "./Field";

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
      way={way}
      offersAt={(text, cursor) => completions(text, cursor, tree)}
      below={(text, flaw) => text.trim() && <Means text={asKept(text, tree)} flaw={flaw} />}
    />
  );
};

const Means = ({ text, flaw }: { text: string; flaw: string | undefined }) => {
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
      {flaw && <span className="block text-clay">{flaw}</span>}
    </span>
  );
};

/** What stands from a character (from 1) of the kept text on, as it is typed. */
const typedFrom = (kept: string, at: number, tree: Tree): string => asTyped(kept.slice(at - 1), tree).slice(0, 60);

interface ProseFieldProps extends FieldPlace {
  label: string;
  isPlain?: boolean;
  placeholder?: string;
  isMono?: boolean;
  /** The step whose values fill its blanks first. */
  step?: string;
  onKeyDown?: (event: React.KeyboardEvent<HTMLElement>) => void;
  onPaste?: (text: string) => boolean;
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
