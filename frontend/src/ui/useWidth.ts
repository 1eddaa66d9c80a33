/** Whether the window is at least so wide; drawings that cannot bend by themselves ask for it. */
import { useSyncExternalStore } from "react";

export function useIsWide(least: string): boolean {
  const { subscribe, matches } = watched(least);
  return useSyncExternalStore(subscribe, matches);
}

interface Watched {
  subscribe: (listener: () => void) => () => void;
  matches: () => boolean;
}

const all = new Map<string, Watched>();

/** One question to the browser for each width, whoever asks and however often. */
function watched(least: string): Watched {
  const there = all.get(least);
  if (there) return there;
  const query = window.matchMedia(`(min-width: ${least})`);
  const made: Watched = {
    subscribe: (listener) => {
      query.addEventListener("change", listener);
      return () => query.removeEventListener("change", listener);
    },
    matches: () => query.matches,
  };
  all.set(least, made);
  return made;
}
