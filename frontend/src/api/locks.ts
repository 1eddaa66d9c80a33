/** Locks between the windows of one browser; where it has none, each window goes ahead. */

/** Runs the work while no other window holds the lock. */
export const withLock = (name: string, work: () => Promise<void>): Promise<void> =>
  navigator.locks ? navigator.locks.request(name, work) : work();

/** Holds a lock until it is released: what releases it, or undefined where another window holds it. */
export function takeLock(name: string): Promise<(() => void) | undefined> {
  if (!navigator.locks) return Promise.resolve(() => undefined);
  return new Promise((resolve) => {
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      if (!lock) {
        resolve(undefined);
        return undefined;
      }
      return new Promise<void>((release) => resolve(release));
    });
  });
}
