import type { KeyboardEvent } from "react";

/** A button that is held down is not pressed again and again. */
export const refuseHeld = (event: KeyboardEvent) => {
  if (event.repeat && event.target instanceof HTMLButtonElement) event.preventDefault();
};
