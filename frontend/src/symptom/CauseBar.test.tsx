import { act, fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Draft } from "../draft/draft";
import { type Item, ROOT, Tree } from "../draft/tree";
import { EditingPlace } from "../editing/fields/Editing";
import { CauseBar } from "./CauseBar";

/** Nothing is laid out in this environment. */
class NoSizes {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal("ResizeObserver", NoSizes);

test("a run of arrow keys at one border is one deed to undo, and another border begins another", () => {
  const deeds = vi.fn((..._deed: unknown[]) => true);
  const causes = ["Dirt", "Wear", "Damp"].map((title, n) => ({ key: `c${n}`, title, weight: 1 }));
  const tree = new Tree({ key: ROOT, causes } as unknown as Item);
  render(
    <EditingPlace draft={{ do: deeds } as unknown as Draft} tree={tree} flaws={[]} playbookId="gate">
      <CauseBar />
    </EditingPlace>,
  );
  const press = (border: HTMLElement | undefined) => {
    act(() => border?.focus());
    fireEvent.keyDown(border as HTMLElement, { key: "ArrowRight" });
  };
  const [first, second] = screen.getAllByRole("slider");
  for (let presses = 0; presses < 3; presses++) press(first);
  press(second);
  const groups = deeds.mock.calls.map(([, , group]) => group);
  expect(groups.every(Boolean)).toBe(true);
  expect([new Set(groups.slice(0, 3)).size, new Set(groups).size]).toEqual([1, 2]);
  // What the draft holds is shown, not what the bar has come to by itself.
  expect(first?.getAttribute("aria-valuetext")).toContain("33");
});
