/** The one owner of the keyboard's place: to what a deed has made or moved, back to where it was, on to a new page's
 * heading, and never lost with what goes away. */

const TAKES =
  "a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]";
const TYPES = "input, textarea, select, [contenteditable]";

/** Whether somebody is typing somewhere: nobody takes the cursor out of a text. */
export const isTyping = (): boolean => document.activeElement?.matches(TYPES) ?? false;

/** Where a deed sends the keyboard: to a rung, to the first field of an item, or to a named field of the inspector. */
export type Place = { rung: string } | { item: string } | { field: string };

/** What shall have the focus as soon as it is there. */
let wished: string | undefined;
let stopWaiting: () => void = () => undefined;

/** Send the keyboard to a place, which may only be drawn in a moment, or drawn anew. The newest wish counts; a key, a
 * press, or a focus that goes elsewhere ends it: whoever has gone on since is not fetched back. */
export function moveFocus(place: Place): void {
  endWish();
  wished = selectorOf(place);
  const watch = new MutationObserver(arrive);
  const leave = (event: FocusEvent) => {
    if (wished === undefined || !(event.target as Element).matches(wished)) endWish();
  };
  watch.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ["hidden"] });
  document.addEventListener("keydown", endWish, true);
  document.addEventListener("pointerdown", endWish, true);
  document.addEventListener("focusin", leave);
  stopWaiting = () => {
    watch.disconnect();
    document.removeEventListener("keydown", endWish, true);
    document.removeEventListener("pointerdown", endWish, true);
    document.removeEventListener("focusin", leave);
  };
  arrive();
}

function endWish(): void {
  wished = undefined;
  stopWaiting();
}

/** Whether the focus is where it was sent. A dialog that is still open keeps it until it has gone. */
function arrive(): boolean {
  if (wished === undefined || isCovered()) return false;
  const there = document.querySelector<HTMLElement>(wished);
  if (there && document.activeElement !== there) there.focus();
  return there !== null && document.activeElement === there;
}

/** Keys of a draft hold letters, digits and hyphens alone: nothing has to be escaped. */
function selectorOf(place: Place): string {
  if ("rung" in place) return `[data-rung="${place.rung}"]`;
  if ("field" in place) return `aside [data-field="${place.field}"]`;
  return `[data-item="${place.item}"] :is(input, select, textarea)`;
}

/** A dialog has closed: the focus goes to where a deed has sent it, else back. */
export function leaveDialog(before: Element | null): void {
  if (!arrive()) giveFocusBack(before);
}

/** Back to what had the focus, or to the page's heading where that is gone. */
export function giveFocusBack(before: Element | null): void {
  const isThere = before instanceof HTMLElement && before.isConnected && before !== document.body;
  if (isThere) before.focus({ preventScroll: true });
  if (!isThere || isNowhere()) toHeading();
}

export function toHeading(): void {
  const [heading, main] = ["h1[tabindex]", "main[tabindex]"].map((one) => document.querySelector<HTMLElement>(one));
  (heading ?? main)?.focus({ preventScroll: true });
}

/** Whether anything but the page as a whole has the focus. */
export const isSomewhere = (): boolean => !isNowhere();

/** What is disabled while it has the focus loses it only once the page is drawn anew. */
const isNowhere = () => {
  const active = document.activeElement;
  return active === null || active === document.body || active.matches(":disabled");
};

/** Watches the page for as long as it lives: when what has the focus is taken away or disabled, the focus goes to what
 * is nearest to where it was. */
export function keepFocus(root: Element): () => void {
  let trail: Element[] = [];
  let isTabbing = false;
  const follow = (event: FocusEvent) => {
    isTabbing = false;
    trail = [];
    for (let at = event.target as Element | null; at && at !== root; at = at.parentElement) trail.push(at);
  };
  /** A press beside what has the focus means to leave it, also where that goes away as it is left: the focus goes where
   * the press goes. One beside a dialog closes that. */
  const leave = (event: PointerEvent) => {
    if (!isCovered() && (event.target as Element).closest(TAKES) !== document.activeElement) trail = [];
  };
  /** Tab at the end of a page leads out of it. */
  const tab = (event: KeyboardEvent) => {
    isTabbing = event.key === "Tab";
  };
  const seek = () => {
    const lost = trail[0];
    if (!lost || isTabbing || !isNowhere() || arrive()) return;
    const dialog = lost.closest<HTMLElement>("[role=dialog]");
    // What is sent is disabled until it is answered: the keyboard stays in its dialog.
    if (dialog?.isConnected) return dialog.focus({ preventScroll: true });
    if (isCovered()) return;
    if (lost instanceof HTMLElement && isUsable(lost)) return lost.focus({ preventScroll: true });
    const around = trail.find((one, place) => place > 0 && one.isConnected && one.querySelector(TAKES));
    trail = [];
    if (around?.matches("main *, [role=dialog] *")) firstWithin(around)?.focus({ preventScroll: true });
    if (isNowhere()) toHeading();
  };
  const watch = new MutationObserver(() => queueMicrotask(seek));
  document.addEventListener("focusin", follow);
  document.addEventListener("pointerdown", leave, true);
  document.addEventListener("keydown", tab, true);
  watch.observe(root, { childList: true, subtree: true, attributes: true, attributeFilter: ["disabled", "hidden"] });
  return () => {
    document.removeEventListener("focusin", follow);
    document.removeEventListener("pointerdown", leave, true);
    document.removeEventListener("keydown", tab, true);
    watch.disconnect();
  };
}

/** A dialog or a menu lies over the page, and keeps the focus itself. */
export const isCovered = (): boolean => document.querySelector("[role=dialog], [role=menu]") !== null;

const isUsable = (one: Element) => one.isConnected && one.matches(TAKES) && one.getClientRects().length > 0;

const firstWithin = (around: Element) => [...around.querySelectorAll<HTMLElement>(TAKES)].find(isUsable);
