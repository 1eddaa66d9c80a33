import { render, screen } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { Prose } from "./Prose";

it("fits into a paragraph, with its own paragraphs apart, and runs nothing", () => {
  const told = vi.spyOn(console, "error");
  render(
    <p data-testid="around">
      <Prose text={"Lift the **flap**.\n\nNever the <b>lid</b>."} />
    </p>,
  );
  expect(told).not.toHaveBeenCalled();
  expect(screen.getByTestId("around").textContent).toBe("Lift the flap.\nNever the <b>lid</b>.");
});
