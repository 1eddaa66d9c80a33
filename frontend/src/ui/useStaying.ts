/** An answer, and while another is worked out, the one before it, of the same thing. */
import { useEffect, useRef } from "react";

export function useStaying<T>(answer: T | undefined, of: string): T | undefined {
  const before = useRef<{ of: string; answer: T }>(undefined);
  useEffect(() => {
    if (answer !== undefined) before.current = { of, answer };
  }, [answer, of]);
  return answer ?? (before.current?.of === of ? before.current.answer : undefined);
}
