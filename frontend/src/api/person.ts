/** Whom this page shows as sitting here: every write says so, and another person's is refused. */

/** The header by which a write says whose it is. */
export const PERSON = "Mild-Ladder-Person";
const CHANNEL = "mild-ladder-person";
let shown: number | undefined;
let onOther: () => void = () => undefined;
let onShown: () => void = () => undefined;
const channel = typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel(CHANNEL);
if (channel) channel.onmessage = () => onOther();

/** Undefined while it is not known. */
export const shownPerson = (): number | undefined => shown;

export function showPerson(person: number | undefined): void {
  if (person === shown) return;
  shown = person;
  onShown();
}

/** Somebody else was chosen in this window: every other window of the browser hears of it at once. */
export const tellOtherWindows = (): void => channel?.postMessage("changed");

/** Somebody else sits here than this page shows: another window or the server has said so. */
export const hearOfOther = (): void => onOther();

/** What this page does then, and whenever it shows somebody else. */
export function watchPerson(other: () => void, isShown: () => void): void {
  onOther = other;
  onShown = isShown;
}
