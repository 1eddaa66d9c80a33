/** One live region for the page, there from the start: what was done is spoken in words, one message a deed. */
const NBSP = "\u00a0";

export function say(text: string): void {
  const region = document.getElementById("said");
  // The same words again are a new message: readers speak only what is another text than before.
  if (region) region.textContent = region.textContent === text ? text + NBSP : text;
}
