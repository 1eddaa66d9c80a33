import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import { Dialog } from "./Dialog";
import { Heading } from "./Heading";

afterEach(cleanup);

const Page = ({ isButtonGone = false }: { isButtonGone?: boolean }) => {
  const [isOpen, setOpen] = useState(false);
  return (
    <main>
      <Heading>A page</Heading>
      {!(isButtonGone && isOpen) && (
        <button type="button" onClick={() => setOpen(true)}>
          Open
        </button>
      )}
      <Dialog isOpen={isOpen} onOpenChange={setOpen} title="A dialog" says="It says something.">
        <input aria-label="A field" />
      </Dialog>
    </main>
  );
};

describe("a dialog", () => {
  it("gives the focus back to what opened it", async () => {
    render(<Page />);
    const user = userEvent.setup();
    await user.click(screen.getByText("Open"));
    await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText("A field")));
    await user.keyboard("{Escape}");
    await waitFor(() => expect(document.activeElement).toBe(screen.getByText("Open")));
  });

  it("gives it to the page's heading where what opened it is gone", async () => {
    render(<Page isButtonGone />);
    const user = userEvent.setup();
    await user.click(screen.getByText("Open"));
    await screen.findByRole("dialog");
    screen.queryByText("Open")?.remove();
    await user.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(document.activeElement?.tagName).not.toBe("BODY");
  });
});
