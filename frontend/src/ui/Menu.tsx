import { DropdownMenu } from "radix-ui";
import { type ReactNode, useRef } from "react";
import { isSomewhere } from "./focus";

interface Choice {
  value: string;
  label: string;
}

interface MenuProps {
  trigger: ReactNode;
  children: ReactNode;
}

/** A menu that drops from a button; closed, it gives the focus back to it, unless it has gone on. */
export const Menu = ({ trigger, children }: MenuProps) => {
  const button = useRef<HTMLButtonElement>(null);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild ref={button}>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (!isSomewhere()) button.current?.focus();
          }}
          className="z-30 min-w-52 rounded-sm border border-rule bg-sheet py-2 shadow-md"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};

const ITEM = "flex items-center gap-2 px-4 py-1.5 outline-none data-[highlighted]:bg-well";

interface MenuChoicesProps {
  label: string;
  value: string;
  choices: Choice[];
  onChoose: (value: string) => void;
}

/** One choice out of a few, within a menu. */
export const MenuChoices = ({ label, value, choices, onChoose }: MenuChoicesProps) => (
  <DropdownMenu.RadioGroup value={value} onValueChange={onChoose}>
    <DropdownMenu.Label className="px-4 py-1 text-dense text-faint">{label}</DropdownMenu.Label>
    {choices.map((choice) => (
      <DropdownMenu.RadioItem key={choice.value} value={choice.value} className={ITEM}>
        <span aria-hidden="true" className="w-3">
          {choice.value === value ? "–" : ""}
        </span>
        {choice.label}
      </DropdownMenu.RadioItem>
    ))}
  </DropdownMenu.RadioGroup>
);

interface MenuItemProps {
  onSelect: () => void;
  children: ReactNode;
}

/** Something to do, within a menu. */
export const MenuItem = ({ onSelect, children }: MenuItemProps) => (
  <DropdownMenu.Item className={`${ITEM} pl-9`} onSelect={onSelect}>
    {children}
  </DropdownMenu.Item>
);

export const MenuRule = () => <DropdownMenu.Separator className="my-2 h-px bg-rule" />;
