/** The one announcer: what was done is spoken in words, one message a deed, from a node of its own that is there from
 * the start, as screen readers need it. */
const NBSP = "\u00a0";
const region = typeof document === "undefined" ? undefined : madeRegion();

function madeRegion(): HTMLElement {
  const made = document.createElement("div");
  made.id = "announcements";
  made.className = "sr-only";
  made.role = "status";
  made.ariaLive = "polite";
  return document.body.appendChild(made);
}

export function say(text: string): void {
  // The same words again are a new message: readers speak only what is another text than before.
  if (region) region.textContent = region.textContent === text ? text + NBSP : text;
}
