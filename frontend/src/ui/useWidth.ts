/** Whether the window is at least so wide; drawings that cannot bend by themselves ask for it. */
import { useSyncExternalStore } from "react";

export function useIsWide(least: string): boolean {
  const query = window.matchMedia(`(min-width: ${least})`);
  return useSyncExternalStore(
    (listener) => {
      query.addEventListener("change", listener);
      return () => query.removeEventListener("change", listener);
    },
    () => query.matches,
  );
}
