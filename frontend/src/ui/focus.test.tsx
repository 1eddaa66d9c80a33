import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { keepFocus } from "./focus";
import { Heading } from "./Heading";

/** A page whose rows go away or are disabled when their button is pressed. */
const Rows = () => {
  const [gone, setGone] = useState<number[]>([]);
  const [isOff, setOff] = useState(false);
  return (
    <main>
      <Heading>Rows</Heading>
      <input aria-label="Text" />
      <ul>
        {[1, 2]
          .filter((n) => !gone.includes(n))
          .map((n) => (
            <li key={n}>
              <button type="button" onClick={() => setGone([...gone, n])}>
                Remove {n}
              </button>
            </li>
          ))}
      </ul>
      <button type="button" disabled={isOff} onClick={() => setOff(true)}>
        Once
      </button>
    </main>
  );
};

let stop: () => void;
beforeEach(() => {
  // Nothing is laid out in this environment; whatever is there counts as shown.
  Element.prototype.getClientRects = () => [{}] as unknown as DOMRectList;
  stop = keepFocus(document.body);
  render(<Rows />);
});
afterEach(() => {
  stop();
  cleanup();
});

const Sending = () => {
  const [isSent, setSent] = useState(false);
  return (
    <div role="dialog" tabIndex={-1}>
      <button type="button" disabled={isSent} onClick={() => setSent(true)}>
        Send
      </button>
    </div>
  );
};

describe("the focus", () => {
  it("comes to a page's heading, and names the window by it", () => {
    expect(document.activeElement).toBe(screen.getByRole("heading"));
    expect(document.title).toBe("Rows · Mild Ladder");
  });

  it("goes to what is nearest when what has it is taken away", async () => {
    await userEvent.click(screen.getByText("Remove 1"));
    await waitFor(() => expect(document.activeElement).toBe(screen.getByText("Remove 2")));
  });

  it("is never nowhere when what has it is disabled", async () => {
    await userEvent.click(screen.getByText("Once"));
    await waitFor(() => expect(document.activeElement).not.toBe(document.body));
  });

  it("stays in a text that somebody types", async () => {
    screen.getByLabelText("Text").focus();
    render(
      <main>
        <Heading>Another</Heading>
      </main>,
    );
    expect(document.activeElement).toBe(screen.getByLabelText("Text"));
  });

  it("stays in a dialog whose button is disabled while what was pressed is sent", async () => {
    render(<Sending />);
    await userEvent.click(screen.getByText("Send"));
    await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("dialog")));
  });
});
