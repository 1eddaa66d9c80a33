import { type KeyboardEvent, useId, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useField, type Way } from "../../draft/useDraft";
import { OptionList } from "../../ui/OptionList";
import { useOptions } from "../../ui/useOptions";
import { useEditing } from "./Editing";
import { type FieldPlace, flawAt } from "./Field";
import { within } from "./ways";

export interface Offer {
  text: string;
  is?: string;
}

const textOf = ({ text }: Offer) => text;

interface CompletedFieldProps extends FieldPlace {
  label: string;
  isPlain?: boolean;
  placeholder?: string;
  isMono?: boolean;
  way: Way;
  /** What may stand at the cursor, and from where on it is replaced. */
  offersAt: (text: string, cursor: number) => { from: number; offers: readonly Offer[] };
  /** What follows a word that is put in. */
  closing?: string;
  /** Told below it while it is typed. */
  below?: (text: string, flaw: string | undefined) => React.ReactNode;
  onKeyDown?: (event: KeyboardEvent<HTMLElement>) => void;
  /** Whether what is pasted was taken otherwise. */
  onPaste?: (text: string) => boolean;
}

/** A text that is completed as it is typed: the arrows choose, Tab or Enter takes, Escape lets it be. */
export const CompletedField = (props: CompletedFieldProps) => {
  const {
    item,
    path,
    part,
    label,
    isPlain,
    isMono,
    placeholder,
    way,
    offersAt,
    closing = " ",
    below,
    onKeyDown,
    onPaste,
  } = props;
  const { draft, flaws } = useEditing();
  const field = useField(draft, item, path, `Changed: ${label}`, part ? within(part, way) : way);
  const place = [...path, ...(part ?? [])];
  const input = useRef<HTMLTextAreaElement>(null);
  const [cursor, setCursor] = useState<number>();
  const id = useId();
  const flaw = flawAt(flaws, item, place);
  const offered = cursor === undefined ? undefined : offersAt(field.text, cursor);
  const offers = offered?.offers ?? [];
  const isOpen = offers.length > 0;

  const put = (offer: Offer) => {
    if (cursor === undefined || !offered) return;
    const text = field.text.slice(0, offered.from) + offer.text + closing;
    flushSync(() => {
      field.onType(text + field.text.slice(cursor).trimStart());
      setCursor(text.length);
      options.unchoose();
    });
    input.current?.setSelectionRange(text.length, text.length);
  };
  const options = useOptions({ options: offers, keyOf: textOf, isOpen, onTake: put, isTakenByTab: true });
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    if (options.onKey(event)) return;
    if (isOpen && event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      setCursor(undefined);
    } else {
      if (event.key === "Enter" && !onKeyDown) event.preventDefault();
      if (event.key === "Escape") field.onEscape();
      onKeyDown?.(event);
    }
  };
  return (
    <div className="relative min-w-0">
      <label htmlFor={id} className={isPlain ? "sr-only" : "block text-tiny text-faint"}>
        {label}
      </label>
      <textarea
        ref={input}
        id={id}
        data-field={place.join(".")}
        rows={1}
        className={`line field-sizing-content w-full ${isMono ? "font-mono" : ""}`}
        placeholder={placeholder}
        value={field.text}
        {...options.field}
        aria-describedby={`${id}-below`}
        aria-invalid={flaw ? true : undefined}
        onFocus={field.onFocus}
        onBlur={() => {
          setCursor(undefined);
          field.onLeave();
        }}
        onChange={({ target }) => {
          field.onType(target.value);
          setCursor(target.selectionStart ?? target.value.length);
          options.unchoose();
        }}
        onKeyDown={onKey}
        onPaste={(event) => {
          if (onPaste?.(event.clipboardData.getData("text/plain"))) event.preventDefault();
        }}
      />
      {isOpen && (
        <OptionList
          id={options.list}
          label={`For ${label}`}
          groups={[{ options: offers }]}
          keyOf={textOf}
          chosen={options.chosen}
          onTake={put}
          className="absolute inset-x-0 top-full z-10 max-h-56 overflow-auto border border-rule bg-sheet py-1 shadow-md"
          optionClassName="flex justify-between gap-3 px-2 py-0.5 text-dense"
        >
          {({ text, is }) => (
            <>
              <span>{text}</span>
              <span className="text-faint text-tiny">{is}</span>
            </>
          )}
        </OptionList>
      )}
      <span id={`${id}-below`} className="block text-tiny">
        {below ? below(field.text, flaw) : flaw && <span className="block text-clay">{flaw}</span>}
      </span>
    </div>
  );
};
