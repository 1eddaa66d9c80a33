/** Cases that wait: what for, and how much a quiet stretch proves of a fault that comes and goes. */
import type { Pause } from "../api/types";
import { trimmed } from "../ui/format";

export const WAITS_FOR: Record<Pause["reason"], string> = {
  watch: "Being watched in normal use",
  part: "Waiting for a part",
  answer: "Waiting for an answer",
  "quiet-hour": "Waiting for a quiet hour",
};

/** The chance that a fault which comes every `interval` minutes stays away for `length` minutes by mere luck. */
export const luck = (length: number, interval: number): number => Math.exp(-length / interval);

/** “18 hours”, “45 minutes”, “2 days”. */
export function lasting(minutes: number): string {
  const sizes: [number, string][] = [
    [24 * 60, "day"],
    [60, "hour"],
  ];
  const [size, name] = sizes.find(([of]) => minutes >= 2 * of || minutes === of) ?? [1, "minute"];
  const number = Math.round((10 * minutes) / size) / 10;
  return `${trimmed(size === 1 ? Math.max(1, Math.round(number)) : number)} ${name}${number === 1 ? "" : "s"}`;
}

/** What a quiet stretch of that length would prove of a fault that comes so often. */
export function quietProves(length: number, interval: number): string {
  const of = Math.round(100 * luck(length, interval));
  const often = of >= 100 ? "nearly always" : of < 1 ? "in fewer than 1 of 100 cases" : `in ${of} of 100 cases`;
  return `quiet for ${lasting(length)} is mere luck ${often}`;
}
