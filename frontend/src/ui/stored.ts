/** What this browser keeps, where it lets one keep anything: blocked storage throws even when it is only looked at. */
export interface Stored {
  getItem(name: string): string | null;
  setItem(name: string, value: string): void;
  removeItem(name: string): void;
  key(at: number): string | null;
  readonly length: number;
}

/** A browser's storage, or another where the browser keeps nothing: by default one that lasts as long as the page. */
export function storageOf(open: () => Stored, otherwise = inMemory): Stored {
  try {
    const found = open();
    found.getItem("");
    return found;
  } catch {
    return otherwise();
  }
}

function inMemory(): Stored {
  const kept = new Map<string, string>();
  return {
    getItem: (name) => kept.get(name) ?? null,
    setItem: (name, value) => void kept.set(name, value),
    removeItem: (name) => void kept.delete(name),
    key: (at) => [...kept.keys()][at] ?? null,
    get length() {
      return kept.size;
    },
  };
}

export const browserStorage = storageOf(() => window.localStorage);
export const windowStorage = storageOf(() => window.sessionStorage);

/** For what has to be told where it is not kept: it refuses to keep anything. */
export const strictStorage = storageOf(
  () => window.localStorage,
  () => ({
    ...inMemory(),
    setItem: () => {
      throw new Error("this browser keeps nothing");
    },
  }),
);
