import { type RefObject, useLayoutEffect, useRef } from "react";

const MS = 180;
let wish: MediaQueryList | undefined;

/** Whether nothing is to move on screen that need not. */
export function isStill(): boolean {
  wish ??= window.matchMedia("(prefers-reduced-motion: reduce)");
  return wish.matches;
}

export const SLIDE = { duration: MS, easing: "ease-out" };

/** The rows of a list slide to where they stand in a new order, moved as pictures: no frame of it is laid out or
 * painted anew. Two neighbours that change places do not: the eye needs no help there, and the next key may follow.
 * `rest` says that the next order is on screen already, such as after a drag. */
export function useSliding(list: RefObject<HTMLElement | null>, order: readonly string[]): { rest: () => void } {
  const before = useRef<{ order: readonly string[]; tops: Map<Element, number> }>(undefined);
  const isAtRest = useRef(false);
  const names = order.join();
  // Rows slide when their order changes, whatever else does.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the names stand for the order, the rows are read as they lie
  useLayoutEffect(() => {
    const rows = [...(list.current?.children ?? [])].filter((row) => row instanceof HTMLElement);
    const tops = new Map<Element, number>(rows.map((row) => [row, row.offsetTop]));
    const was = before.current;
    before.current = { order, tops };
    const isAsk = was !== undefined && !isAtRest.current && !areSwapped(was.order, order) && !isStill();
    isAtRest.current = false;
    if (isAsk) for (const row of rows) slide(row, was.tops.get(row), tops.get(row));
  }, [names]);
  return {
    rest: () => {
      isAtRest.current = true;
    },
  };
}

/** Whether one order is the other with two neighbours in each other's place. */
export function areSwapped(was: readonly string[], now: readonly string[]): boolean {
  const differing = now.flatMap((key, at) => (key === was[at] ? [] : [at]));
  const [one = 0, other = 0] = differing;
  return was.length === now.length && differing.length === 2 && other === one + 1 && was[one] === now[other];
}

function slide(row: HTMLElement, from: number | undefined, to: number | undefined): void {
  if (from === undefined || to === undefined || from === to) return;
  row.animate([{ transform: `translateY(${from - to}px)` }, { transform: "none" }], SLIDE);
}
