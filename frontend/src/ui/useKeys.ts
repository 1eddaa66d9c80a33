/** Binds keys of the one table for as long as a component is shown; silent while somebody types or a dialog is open. */
import { useEffect, useRef, useSyncExternalStore } from "react";
import { isCovered } from "./focus";
import { isAnswer, isForTyping, isHeld, type KeyName, nameOfKey, pressed } from "./keys";

export type Acts = Partial<Record<KeyName, () => void>>;

const TYPES = "input, textarea, select, [contenteditable]";
/** A second answer within so many milliseconds was meant for the question before. */
const IN_HASTE_MS = 250;

const bound = new Set<{ current: Acts }>();
let lastAnswer = Number.NEGATIVE_INFINITY;
let resting: ReturnType<typeof setTimeout>;
let isResting = false;
const listeners = new Set<() => void>();

export function useKeys(acts: Acts): void {
  const latest = useRef(acts);
  latest.current = acts;
  useEffect(() => {
    bound.add(latest);
    if (bound.size === 1) window.addEventListener("keydown", onKeyDown);
    return () => {
      bound.delete(latest);
      if (bound.size === 0) window.removeEventListener("keydown", onKeyDown);
    };
  }, []);
}

function onKeyDown(event: KeyboardEvent): void {
  // A browser that fills fields in by itself sends events without a key; what composes a character is no key either.
  if (event.defaultPrevented || !event.key || event.isComposing) return;
  const types = isTyping(event.target);
  const name = nameOfKey(pressed(event), (one) => actOf(one) !== undefined && (!types || isForTyping(one)));
  // Asked last, for it looks through the whole page, and most keys are letters of a text.
  if (!name || isCovered()) return;
  event.preventDefault();
  if (event.repeat && !isHeld(name)) return;
  if (isAnswer(name) && isInHaste(event.timeStamp)) return;
  actOf(name)?.();
}

/** Whether an answer, by key or pointer, comes so soon after another that it was meant for that one's question. */
export function isInHaste(timeStamp: number): boolean {
  const since = timeStamp - lastAnswer;
  lastAnswer = timeStamp;
  clearTimeout(resting);
  resting = setTimeout(() => tellRest(false), IN_HASTE_MS);
  tellRest(true);
  return since < IN_HASTE_MS;
}

/** Whether an answer was given so short ago that another would be one in haste. */
export const useIsResting = (): boolean =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => isResting,
  );

function tellRest(next: boolean): void {
  isResting = next;
  for (const listener of listeners) listener();
}

function actOf(name: KeyName): (() => void) | undefined {
  let found: (() => void) | undefined;
  for (const acts of bound) found = acts.current[name] ?? found;
  return found;
}

const isTyping = (target: EventTarget | null) => target instanceof Element && target.closest(TYPES) !== null;
