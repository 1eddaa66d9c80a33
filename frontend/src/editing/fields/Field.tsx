import { type KeyboardEvent, type ReactNode, useId } from "react";
import type { Flaw } from "../../draft/state";
import { useField, useValue, type Way } from "../../draft/useDraft";
import { ReadAs } from "../../ui/ReadAs";
import { useEditing } from "./Editing";
import { set } from "./operations";
import { DURATION, MINUTES, NUMBER, partOf, SHARE, TEXT, within, withPart } from "./ways";

const NUMBERS: readonly Way[] = [NUMBER, MINUTES, SHARE];

export interface FieldPlace {
  item: string;
  path: readonly string[];
  /** Where the field holds an object as a whole: the part of it that is edited. */
  part?: readonly string[];
}

interface Labelled {
  label: string;
  /** Its label is read out, but what it is can be seen without. */
  isPlain?: boolean;
}

interface ShellProps extends Labelled, FieldPlace {
  children: (id: string, flaw: string | undefined) => ReactNode;
  unit?: string | undefined;
  className?: string | undefined;
}

/** A field with its label above it, and below it what is wrong with it. */
const FieldShell = ({ label, isPlain, item, path, part, unit, className, children }: ShellProps) => {
  const id = useId();
  const { flaws } = useEditing();
  const flaw = flawAt(flaws, item, [...path, ...(part ?? [])]);
  return (
    <span className={`block min-w-0 ${className ?? ""}`}>
      <label htmlFor={id} className={isPlain ? "sr-only" : "block text-tiny text-faint"}>
        {label}
      </label>
      <span className="flex items-baseline gap-1">
        {children(id, flaw && `${id}-flaw`)}
        {unit && <span className="text-faint text-tiny">{unit}</span>}
      </span>
      {flaw && (
        <span id={`${id}-flaw`} className="block text-clay text-tiny">
          {flaw}
        </span>
      )}
    </span>
  );
};

/** What is wrong with a field, in words; undefined for nothing. */
export function flawAt(flaws: readonly Flaw[], item: string, path: readonly string[]): string | undefined {
  return flaws.find(({ key, field }) => key === item && path.every((name, at) => field[at] === name))?.says;
}

interface TextFieldProps extends FieldPlace, Labelled {
  isLong?: boolean;
  placeholder?: string;
  way?: Way;
  unit?: string;
  width?: string;
  isMono?: boolean;
  isStrong?: boolean;
  onKeyDown?: (event: KeyboardEvent<HTMLElement>) => void;
  onPaste?: (text: string) => boolean;
  /** What else goes with what is typed. */
  onTyped?: (text: string) => void;
}

/** A text of the draft: kept with every key, sent when the typing rests. */
export const TextField = ({
  isLong,
  placeholder,
  way,
  width,
  isMono,
  isStrong,
  onKeyDown,
  onPaste,
  onTyped,
  ...shell
}: TextFieldProps) => {
  const { draft } = useEditing();
  const { item, path, part, label } = shell;
  const field = useField(draft, item, path, `Changed: ${label}`, part ? within(part, way ?? TEXT) : (way ?? TEXT));
  return (
    <FieldShell {...shell} className={width}>
      {(id, describedBy) => {
        const props = {
          id,
          "data-field": [...path, ...(part ?? [])].join("."),
          className: `line min-w-0 flex-1 ${isMono ? "font-mono" : ""} ${isStrong ? "font-semibold" : ""}`,
          placeholder,
          value: field.text,
          "aria-describedby": describedBy,
          "aria-invalid": describedBy ? true : undefined,
          onFocus: field.onFocus,
          onBlur: field.onLeave,
          onChange: ({ target }: { target: { value: string } }) => {
            field.onType(target.value);
            onTyped?.(target.value);
          },
          onPaste: (event: { clipboardData: DataTransfer; preventDefault: () => void }) => {
            if (onPaste?.(event.clipboardData.getData("text/plain"))) event.preventDefault();
          },
          onKeyDown: (event: KeyboardEvent<HTMLElement>) => {
            onKeyDown?.(event);
            if (event.key === "Escape") field.onEscape();
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) draft.flush();
          },
        };
        return isLong ? (
          <textarea rows={1} {...props} className={`${props.className} field-sizing-content`} />
        ) : (
          <>
            <input type="text" autoComplete="off" {...props} />
            {way !== undefined && NUMBERS.includes(way) && <ReadAs text={field.text} />}
          </>
        );
      }}
    </FieldShell>
  );
};

export const NumberField = (props: Omit<TextFieldProps, "way">) => <TextField width="w-16" {...props} way={NUMBER} />;

/** Minutes of work, to which waiting and the like can be added in words. */
export const MinutesField = (props: Omit<TextFieldProps, "way">) => <TextField width="w-24" {...props} way={MINUTES} />;

/** A length of time, such as 4 h. */
export const DurationField = (props: Omit<TextFieldProps, "way">) => (
  <TextField width="w-28" {...props} way={DURATION} />
);

/** A share of one, typed as per cent. */
export const ShareField = (props: Omit<TextFieldProps, "way" | "unit">) => (
  <TextField width="w-16" unit="%" {...props} way={SHARE} />
);

export interface Option {
  value: string;
  label: string;
}

interface ChoiceFieldProps extends FieldPlace, Labelled {
  options: readonly Option[];
  /** What no value means; absent: one has to be chosen. */
  none?: string;
  width?: string;
  /** Its values are numbers. */
  isNumber?: boolean;
  /** The option that stands there, where the field does not hold it as it is. */
  shown?: string;
  /** What else goes with a choice, in the same edit. */
  onChoose?: (value: string | null) => boolean;
}

/** One out of a few. */
export const ChoiceField = ({ options, none, width, isNumber, shown, onChoose, ...shell }: ChoiceFieldProps) => {
  const { draft } = useEditing();
  const { item, path, part = [], label } = shell;
  const there = partOf(useValue(draft, item, path), part);
  const value = shown ?? (there == null ? "" : String(there));
  const isKnown = options.some((one) => one.value === value);
  const choose = (next: string) => {
    if (onChoose?.(next || null)) return;
    const value = isNumber && next ? Number(next) : next || null;
    const was = draft.state().tree?.value(item, path) ?? null;
    draft.type(item, path, was, withPart(was, part, value), `Changed: ${label}`);
  };
  return (
    <FieldShell {...shell} className={width}>
      {(id, describedBy) => (
        <select
          id={id}
          data-field={[...path, ...part].join(".")}
          className="line min-w-0 max-w-full"
          value={value}
          aria-describedby={describedBy}
          onChange={({ target }) => choose(target.value)}
        >
          {(none !== undefined || value === "") && <option value="">{none ?? "choose …"}</option>}
          {!isKnown && value !== "" && <option value={value}>something that is no longer there</option>}
          {options.map((one) => (
            <option key={one.value} value={one.value}>
              {one.label}
            </option>
          ))}
        </select>
      )}
    </FieldShell>
  );
};

/** Yes or no; no is what is not said. */
export const TickField = ({ label, item, path, part = [] }: FieldPlace & { label: string }) => {
  const { draft, tree } = useEditing();
  const id = useId();
  const there = tree.value(item, path);
  const tick = (isTicked: boolean) =>
    draft.do([set(tree, item, path, withPart(there, part, isTicked || null))], `Changed: ${label}`);
  return (
    <span className="flex items-baseline gap-1.5 text-dense">
      <input
        id={id}
        type="checkbox"
        checked={partOf(there, part) === true}
        onChange={({ target }) => tick(target.checked)}
      />
      <label htmlFor={id}>{label}</label>
    </span>
  );
};
