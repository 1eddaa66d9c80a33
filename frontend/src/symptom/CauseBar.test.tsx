import { fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Draft } from "../draft/draft";
import { type Item, ROOT, Tree } from "../draft/tree";
import { EditingPlace } from "../editing/fields/Editing";
import { CauseBar } from "./CauseBar";

test("a run of arrow keys at one border is one deed to undo, and another border begins another", () => {
  const deeds = vi.fn((..._deed: unknown[]) => true);
  const causes = ["Dirt", "Wear", "Damp"].map((title, n) => ({ key: `c${n}`, title, weight: 1 }));
  const tree = new Tree({ key: ROOT, causes } as unknown as Item);
  render(
    <EditingPlace draft={{ do: deeds } as unknown as Draft} tree={tree} flaws={[]} playbookId="gate">
      <CauseBar />
    </EditingPlace>,
  );
  const [first, second] = screen.getAllByRole("slider");
  for (let press = 0; press < 3; press++) fireEvent.keyDown(first as HTMLElement, { key: "ArrowRight" });
  fireEvent.keyDown(second as HTMLElement, { key: "ArrowRight" });
  const groups = deeds.mock.calls.map(([, , group]) => group);
  expect(groups.every(Boolean)).toBe(true);
  expect([new Set(groups.slice(0, 3)).size, new Set(groups).size]).toEqual([1, 2]);
});
