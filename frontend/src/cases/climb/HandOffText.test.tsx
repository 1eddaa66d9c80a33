import { fireEvent, render, screen } from "@testing-library/react";
import { expect, test } from "vitest";
import { HandOffText } from "./HandOffText";

test("a text that was emptied stays empty until something is written, or the old one is wanted back", () => {
  render(<HandOffText climbId="c1" text="The lamp is dark." />);
  const field = screen.getByRole("textbox") as HTMLTextAreaElement;
  expect(field.value).toBe("The lamp is dark.");
  fireEvent.change(field, { target: { value: "" } });
  expect(field.value).toBe("");
  fireEvent.change(field, { target: { value: "It is lit." } });
  expect(field.value).toBe("It is lit.");
  fireEvent.click(screen.getByRole("button", { name: "As it was written" }));
  expect(field.value).toBe("The lamp is dark.");
});
