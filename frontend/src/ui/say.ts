/** One live region for the page, there from the start: what was done is spoken in words, one message a deed. */
const NBSP = "\u00a0";
let region: HTMLElement | null | undefined;

export function say(text: string): void {
  region ??= document.getElementById("announcements");
  // The same words again are a new message: readers speak only what is another text than before.
  if (region) region.textContent = region.textContent === text ? text + NBSP : text;
}
