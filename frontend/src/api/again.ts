/** The one pause before something that failed is tried again. */

const SOONEST_MS = 1000;
const LATEST_MS = 15_000;

/** Milliseconds to wait after so many failures in a row: 1, 2, 4 … at most 15 seconds. */
export const pauseAfter = (failures: number): number => Math.min(LATEST_MS, SOONEST_MS * 2 ** (failures - 1));

/** What an attempt answers, tried again after growing pauses; undefined where it failed so many times. */
export async function withRetries<T>(attempt: () => Promise<T>, most: number): Promise<T | undefined> {
  for (let failures = 1; ; failures += 1) {
    try {
      return await attempt();
    } catch {
      if (failures === most) return undefined;
      await new Promise((resume) => setTimeout(resume, pauseAfter(failures)));
    }
  }
}
