/** One live region for the page: what changed is spoken in words, for those who do not see it move. */
let region: HTMLElement | null = null;

export function say(text: string): void {
  if (!region) {
    region = document.createElement("div");
    region.setAttribute("role", "status");
    region.className = "sr-only";
    document.body.append(region);
  }
  region.textContent = text;
}
