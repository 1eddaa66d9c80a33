import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, it } from "vitest";
import { OptionList } from "./OptionList";
import { useOptions } from "./useOptions";

afterEach(cleanup);

interface FieldProps {
  offers: string[];
  isFirstChosen?: boolean;
}

const Field = ({ offers, isFirstChosen = false }: FieldProps) => {
  const [taken, setTaken] = useState("");
  const options = useOptions({ options: offers, keyOf: String, isOpen: true, onTake: setTaken, isFirstChosen });
  return (
    <>
      <input aria-label="Words" {...options.field} onKeyDown={(event) => options.onKey(event)} />
      <OptionList
        id={options.list}
        label="Offers"
        groups={[{ options: offers }]}
        keyOf={String}
        chosen={options.chosen}
        onTake={setTaken}
      >
        {(offer) => offer}
      </OptionList>
      <p data-testid="taken">{taken}</p>
    </>
  );
};

const chosen = () => screen.queryByRole("option", { selected: true })?.textContent;
const press = async (...keys: string[]) => {
  await userEvent.click(screen.getByRole("combobox"));
  await userEvent.keyboard(keys.map((key) => `{${key}}`).join(""));
};

it("goes round the options and the field's own words", async () => {
  render(<Field offers={["a", "b"]} />);
  expect(chosen()).toBeUndefined();
  await press("ArrowDown");
  expect(chosen()).toBe("a");
  await press("ArrowUp");
  expect(chosen()).toBeUndefined();
  await press("ArrowUp");
  expect(chosen()).toBe("b");
  await press("Enter");
  expect(screen.getByTestId("taken").textContent).toBe("b");
});

it("keeps what was chosen when others arrive before it", async () => {
  const { rerender } = render(<Field offers={["b", "c"]} isFirstChosen />);
  await press("ArrowDown");
  expect(chosen()).toBe("c");
  rerender(<Field offers={["a", "b", "c"]} isFirstChosen />);
  expect(chosen()).toBe("c");
  rerender(<Field offers={["a", "b"]} isFirstChosen />);
  expect(chosen()).toBe("a");
});

it("names what is chosen to a screen reader, and no list where there is nothing", () => {
  const { rerender } = render(<Field offers={["a"]} isFirstChosen />);
  const field = screen.getByRole("combobox");
  expect(field.getAttribute("aria-activedescendant")).toBe(screen.getByRole("option").id);
  rerender(<Field offers={[]} isFirstChosen />);
  expect([field.getAttribute("aria-expanded"), field.getAttribute("aria-controls")]).toEqual(["false", null]);
});
