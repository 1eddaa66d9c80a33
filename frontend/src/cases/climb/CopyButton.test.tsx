import { act, fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { CopyButton } from "./CopyButton";
import { InstructionList } from "./InstructionList";

test("what was copied is said of that text alone", async () => {
  const copied: string[] = [];
  vi.stubGlobal("navigator", { clipboard: { writeText: async (text: string) => void copied.push(text) } });
  const { rerender } = render(<CopyButton text="lamp --reset 1" label="copy" />);
  await act(async () => fireEvent.click(screen.getByRole("button")));
  expect(screen.getByRole("button").textContent).toContain("copied");
  rerender(<CopyButton text="lamp --reset 2" label="copy" />);
  expect(screen.getByRole("button").textContent).toContain("copy");
  expect(screen.getByRole("button").textContent).not.toContain("copied");
  expect(copied).toEqual(["lamp --reset 1"]);
  vi.unstubAllGlobals();
});

test("a count that runs does not run on for another instruction", () => {
  const { rerender } = render(<InstructionList instructions={[{ text: "Hold it", hold: 30 }]} />);
  fireEvent.click(screen.getAllByRole("button", { name: /count/ })[0] as HTMLElement);
  expect(screen.getByText(/seconds left/)).toBeDefined();
  rerender(<InstructionList instructions={[{ text: "Press it", hold: 30 }]} />);
  expect(screen.queryByText(/seconds left/)).toBeNull();
});
