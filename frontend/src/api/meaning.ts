/** What the kinds of steps mean, for screens that draw them. */
import type { Step } from "./types";

/** Whether the original action is tried again after it: only then can it have ended the fault. */
export const isTested = (kind: Step["kind"] | null): boolean => kind === "fix" || kind === "workaround";
