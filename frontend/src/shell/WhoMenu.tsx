import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../api/me";
import { Menu, MenuChoices, MenuItem, MenuRule } from "../ui/Menu";
import { useChoosePerson } from "./queries";
import { THEMES, useTheme } from "./theme";

/** Who sits here, at the right end of the top line; from here the person and the look can be changed. */
export const WhoMenu = ({ onShowKeys }: { onShowKeys: () => void }) => {
  const { data: me } = useQuery(meQuery);
  const choose = useChoosePerson();
  const { theme, choose: chooseTheme } = useTheme();
  return (
    <Menu
      trigger={
        <button type="button" className="button" data-tone="quiet">
          {me?.person ? (
            <span>
              {me.person.name}
              <span className="max-md:sr-only">, {me.person.role}</span>
            </span>
          ) : (
            "Nobody yet"
          )}
        </button>
      }
    >
      {me && me.people.length > 0 && (
        <>
          <MenuChoices
            label="Who sits here"
            value={String(me.person?.id ?? "")}
            choices={me.people.map((person) => ({ value: String(person.id), label: `${person.name}, ${person.role}` }))}
            onChoose={(id) => choose.mutate(Number(id))}
          />
          <MenuRule />
        </>
      )}
      <MenuChoices label="Look" value={theme} choices={THEMES} onChoose={chooseTheme} />
      <MenuRule />
      <MenuItem onSelect={onShowKeys}>Keys …</MenuItem>
    </Menu>
  );
};
