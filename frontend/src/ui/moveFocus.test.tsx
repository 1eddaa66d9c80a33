import { act, cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, expect, it } from "vitest";
import { Dialog } from "./Dialog";
import { moveFocus } from "./focus";

afterEach(cleanup);

let add: (key: string) => void;
let redraw: () => void;

/** Items that come when they are added, all drawn anew on demand, and a dialog that sends the keyboard to one. */
const Page = () => {
  const [keys, setKeys] = useState<string[]>([]);
  const [round, setRound] = useState(0);
  const [isOpen, setOpen] = useState(false);
  add = (key) => setKeys((before) => [...before, key]);
  redraw = () => setRound((before) => before + 1);
  const choose = () => {
    moveFocus({ item: "a" });
    setOpen(false);
  };
  return (
    <main>
      <button type="button" onClick={() => setOpen(true)}>
        Elsewhere
      </button>
      {keys.map((key) => (
        <p key={`${key} ${round}`} data-item={key}>
          <input aria-label={key} />
        </p>
      ))}
      <Dialog isOpen={isOpen} onOpenChange={setOpen} title="Where to" says="It asks.">
        <button type="button" onClick={choose}>
          To a
        </button>
      </Dialog>
    </main>
  );
};

const settled = () => act(async () => {});

it("goes to what is there only a moment later, and stays with it when it is drawn anew", async () => {
  render(<Page />);
  act(() => moveFocus({ item: "a" }));
  act(() => add("a"));
  await settled();
  expect(document.activeElement).toBe(screen.getByLabelText("a"));
  act(redraw);
  await settled();
  expect(document.activeElement).toBe(screen.getByLabelText("a"));
});

it("fetches nobody back who has pressed a key, or gone elsewhere, since", async () => {
  render(<Page />);
  const elsewhere = screen.getByRole("button", { name: "Elsewhere" });
  act(() => moveFocus({ item: "a" }));
  act(() => elsewhere.focus());
  act(() => add("a"));
  await settled();
  expect(document.activeElement).toBe(elsewhere);
  act(() => moveFocus({ item: "b" }));
  await userEvent.keyboard("x");
  act(() => add("b"));
  await settled();
  expect(document.activeElement).toBe(elsewhere);
});

it("waits until the dialog that it comes from has gone", async () => {
  render(<Page />);
  act(() => add("a"));
  await userEvent.click(screen.getByRole("button", { name: "Elsewhere" }));
  await userEvent.click(screen.getByRole("button", { name: "To a" }));
  await act(() => new Promise((done) => setTimeout(done)));
  expect(document.activeElement).toBe(screen.getByLabelText("a"));
});
