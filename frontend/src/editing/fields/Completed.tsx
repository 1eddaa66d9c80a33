import { type KeyboardEvent, useId, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useField, type Way } from "../../draft/useDraft";
import { OptionList, optionId } from "../../ui/OptionList";
import { useEditing } from "./Editing";
import { type FieldPlace, flawAt } from "./Field";
import { within } from "./ways";

export interface Offer {
  text: string;
  is?: string;
}

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
  const [at, setAt] = useState<{ cursor: number; chosen: number }>();
  const id = useId();
  const flaw = flawAt(flaws, item, place);
  const offered = at && offersAt(field.text, at.cursor);
  const offers = offered?.offers ?? [];
  const isOpen = at !== undefined && offers.length > 0;
  const chosen = Math.min(at?.chosen ?? -1, offers.length - 1);

  const put = (offer: Offer) => {
    if (!at || !offered) return;
    const text = field.text.slice(0, offered.from) + offer.text + closing;
    flushSync(() => {
      field.onType(text + field.text.slice(at.cursor).trimStart());
      setAt({ cursor: text.length, chosen: -1 });
    });
    input.current?.setSelectionRange(text.length, text.length);
  };
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const offer = offers[chosen];
    if (isOpen && by && !event.altKey) {
      event.preventDefault();
      setAt({
        cursor: at.cursor,
        chosen: (chosen + by + offers.length + (chosen < 0 && by < 0 ? 1 : 0)) % offers.length,
      });
    } else if (isOpen && offer && (event.key === "Enter" || event.key === "Tab")) {
      event.preventDefault();
      put(offer);
    } else if (isOpen && event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      setAt(undefined);
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
        role="combobox"
        aria-expanded={isOpen}
        aria-controls={`${id}-offers`}
        aria-autocomplete="list"
        aria-activedescendant={isOpen && chosen >= 0 ? optionId(`${id}-offers`, chosen) : undefined}
        aria-describedby={`${id}-below`}
        aria-invalid={flaw ? true : undefined}
        onFocus={field.onFocus}
        onBlur={() => {
          setAt(undefined);
          field.onLeave();
        }}
        onChange={({ target }) => {
          field.onType(target.value);
          setAt({ cursor: target.selectionStart ?? target.value.length, chosen: -1 });
        }}
        onKeyDown={onKey}
        onPaste={(event) => {
          if (onPaste?.(event.clipboardData.getData("text/plain"))) event.preventDefault();
        }}
      />
      {isOpen && (
        <OptionList
          id={`${id}-offers`}
          label={`For ${label}`}
          groups={[{ options: offers }]}
          keyOf={({ text }) => text}
          chosen={chosen}
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
