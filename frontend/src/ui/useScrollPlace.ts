/** Where a long list stood when one left it, for when one comes back to it; kept for as long as the window. */
import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

interface Place {
  offset: number;
  /** What was opened from there. */
  opened?: string;
}

const places = new Map<string, Place>();

export function useScrollPlace(): {
  before: Place | undefined;
  scrolled: (offset: number) => void;
  opened: (what: string) => void;
} {
  const { key, pathname, search } = useLocation();
  const name = useRef(`${key} ${pathname}${search}`);
  const before = useRef(places.get(name.current));
  useEffect(() => {
    name.current = `${key} ${pathname}${search}`;
  }, [key, pathname, search]);
  return {
    before: before.current,
    scrolled: (offset) => {
      places.set(name.current, { ...places.get(name.current), offset });
    },
    opened: (what) => {
      places.set(name.current, { offset: places.get(name.current)?.offset ?? 0, opened: what });
    },
  };
}
