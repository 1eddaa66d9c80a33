/** A move that the server has not acknowledged waits here, in this browser, also over a reload. */
import type { Sent } from "./queries";

const nameOf = (climbId: string) => `mild-ladder-waiting-${climbId}`;

export const keepWaiting = (climbId: string, sent: Sent) => localStorage.setItem(nameOf(climbId), JSON.stringify(sent));

export const stopWaiting = (climbId: string) => localStorage.removeItem(nameOf(climbId));

export function waiting(climbId: string): Sent | undefined {
  const text = localStorage.getItem(nameOf(climbId));
  if (!text) return undefined;
  try {
    return JSON.parse(text) as Sent;
  } catch {
    return undefined;
  }
}
