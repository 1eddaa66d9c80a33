import type { ReactNode } from "react";

interface OptionGroup<T> {
  /** What they are called together; absent: they need no name. */
  name?: string;
  /** The name is shown above them. */
  isNameShown?: boolean;
  options: readonly T[];
}

interface OptionListProps<T> {
  /** Of the list; each option has this and its number. */
  id: string;
  label: string;
  groups: readonly OptionGroup<T>[];
  keyOf: (option: T) => string;
  /** The number of the option that the arrow keys have come to, over all groups. */
  chosen: number;
  onTake: (option: T) => void;
  onPoint?: (option: T) => void;
  isHidden?: boolean;
  className?: string;
  optionClassName?: string;
  children: (option: T) => ReactNode;
}

export const optionId = (list: string, number: number): string => `${list}-${number}`;

/** What a text field offers, below it. The field keeps the focus and has the keys (`aria-activedescendant`); a pointer
 * takes an option without moving the focus. */
export const OptionList = <T,>(props: OptionListProps<T>) => {
  const { id, label, groups, keyOf, chosen, onTake, onPoint, isHidden, className, optionClassName, children } = props;
  let number = 0;
  return (
    <div id={id} role="listbox" aria-label={label} hidden={isHidden} className={className}>
      {groups
        .filter(({ options }) => options.length > 0)
        .map(({ name, isNameShown, options }, at) => (
          <div key={name ?? at} role="group" aria-label={name}>
            {isNameShown && (
              <p aria-hidden="true" className="px-3 pt-1.5 text-dense text-faint">
                {name}
              </p>
            )}
            {options.map((option) => {
              const mine = number++;
              return (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the text field has the keys
                <div
                  key={keyOf(option)}
                  id={optionId(id, mine)}
                  role="option"
                  tabIndex={-1}
                  aria-selected={mine === chosen}
                  className={`cursor-pointer aria-selected:bg-well ${optionClassName ?? ""}`}
                  onMouseDown={(event) => event.preventDefault()}
                  onMouseEnter={() => onPoint?.(option)}
                  onClick={() => onTake(option)}
                >
                  {children(option)}
                </div>
              );
            })}
          </div>
        ))}
    </div>
  );
};
