/** What of the ladder is looked at, kept in the address: the chosen rung, the open strip, the sort of unit. A link leads
 * a colleague to the same. */
import { useEffect, useMemo, useRef, useState } from "react";
import { useLocation, useNavigation, useSearchParams } from "react-router";
import type { OPENED } from "../../advice/nudges/NudgeStrip";
import { useSettled } from "../../ui/useSettled";

/** Rungs are gone through faster than a browser takes addresses. */
const STANDS_STILL_MS = 400;

export function useAddress() {
  const [params, setParams] = useSearchParams();
  const inAddress = params.get("rung") ?? undefined;
  const [chosen, setChosen] = useState(inAddress);
  const isHere = useNavigation().state === "idle";
  const settled = useSettled(chosen, STANDS_STILL_MS);
  const written = useRef(inAddress);
  const write = (change: (now: URLSearchParams) => void) =>
    setParams(
      (now) => {
        change(now);
        return now;
      },
      { replace: true },
    );
  useEffect(() => {
    // Whoever is on the way to another place is not called back, nor is a link overruled by what was chosen before it.
    if (settled === undefined || settled === written.current || !isHere) return;
    written.current = settled;
    setParams(
      (now) => {
        now.delete("step");
        now.set("rung", settled);
        return now;
      },
      { replace: true },
    );
  }, [settled, isHere, setParams]);
  const step = params.get("step");
  useEffect(() => {
    if (step === null) return;
    setChosen(undefined);
    written.current = undefined;
  }, [step]);
  const given = params.getAll("unit").join("\n");
  const unit = useMemo(() => given.split("\n").filter((one) => one.includes(":")), [given]);
  return {
    chosen,
    choose: setChosen,
    /** A step that a link leads to. */
    step,
    /** A nudge that a link leads to, by its key. */
    nudge: params.get("nudge"),
    /** It was pressed on the Desk; a link that comes from elsewhere only shows it. */
    isNudgeOpened: (useLocation().state as typeof OPENED | null)?.isOpened === true,
    leaveNudge: () => write((now) => now.delete("nudge")),
    isComparing: params.get("strip") === "orders",
    compare: (isOpen: boolean) =>
      write((now) => {
        if (isOpen) now.set("strip", "orders");
        else now.delete("strip");
      }),
    unit,
    seeUnit: (facts: readonly string[]) =>
      write((now) => {
        now.delete("unit");
        for (const one of facts) now.append("unit", one);
      }),
  };
}
