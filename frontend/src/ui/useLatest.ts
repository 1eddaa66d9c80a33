/** One function for as long as a component lives that always does what the newest one does: what is handed down stays
 * the same, so that nothing is drawn anew because of it. */
import { useCallback, useLayoutEffect, useRef } from "react";

export function useLatest<A extends unknown[], R>(act: (...args: A) => R): (...args: A) => R {
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  return useCallback((...args: A) => latest.current(...args), []);
}
