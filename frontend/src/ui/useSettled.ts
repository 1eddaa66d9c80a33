import { useEffect, useState } from "react";

/** The value once it has stood still for a moment; undefined while it changes: long work is not begun for each step. */
export function useSettled<T>(value: T, milliseconds = 350): T | undefined {
  const [settled, setSettled] = useState<T>();
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), milliseconds);
    return () => window.clearTimeout(timer);
  }, [value, milliseconds]);
  return settled === value ? settled : undefined;
}

/** The value that stood still last: what is only looked up beside it does not compete with what changes it. */
export function useRested<T>(value: T, milliseconds = 150): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), milliseconds);
    return () => window.clearTimeout(timer);
  }, [value, milliseconds]);
  return rested;
}
