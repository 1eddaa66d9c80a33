/** Cases that wait: what for, and how much a quiet stretch proves of a fault that comes and goes. */
import type { Pause } from "../../api/types";
import { percent } from "../../ui/format";

export const WAITS_FOR: Record<Pause["reason"], string> = {
  watch: "Being watched in normal use",
  runs: "Running by itself",
  part: "Waiting for a part",
  answer: "Waiting for an answer",
  "call-back": "Waiting for the caller to ring back",
  "quiet-hour": "Waiting for a quiet hour",
  repair: "Restored for now, waiting for the lasting repair",
};

/** A step that runs by itself for so many minutes leaves time for another caller. */
export const WORTH_PUTTING_ASIDE = 5;

/** The chance that a fault which comes every `interval` minutes stays away for `length` minutes by mere luck. */
export const luck = (length: number, interval: number): number => Math.exp(-length / interval);

/** How often a stretch so long is quiet by mere luck. */
export const byLuck = (length: number, interval: number) => percent(Math.max(0.001, luck(length, interval)));

/** Minutes as a clock shows them: `2:05`. */
export const onClock = (minutes: number) =>
  `${Math.floor(minutes / 60)}:${String(Math.floor(minutes % 60)).padStart(2, "0")}`;
