/** Moves of guided cases that the server has not acknowledged, kept in this browser: one item each, so that windows
 * never write over one another's, in the order in which they were made. */
import type { Move } from "../../api/types";

export interface Unsent {
  climbId: string;
  /** What the case is called, for those who look at another page. */
  called: string;
  /** Whose it is; not known of what an earlier version kept. */
  person?: number;
  by?: string;
  /** Makes sending it twice harmless. */
  key: string;
  /** Orders what one browser made. */
  at: number;
  move: Move;
  /** What it is, in the words of the screen. */
  says: string;
  /** The event that it follows, once it was sent. */
  after?: number;
  /** Why the server would not have it: what was written stays until somebody has understood that. */
  refused?: string;
}

const PREFIX = "mild-ladder-unsent ";
/** Where versions before kept the only one of a case. */
const BEFORE = "mild-ladder-waiting-";

export type MoveStorage = Pick<Storage, "getItem" | "setItem" | "removeItem" | "key" | "length">;

const nameOf = ({ climbId, key }: Pick<Unsent, "climbId" | "key">) => `${PREFIX}${climbId} ${key}`;

export const isOurs = (name: string | null) => name === null || name.startsWith(PREFIX);

/** Everything that waits, the first made first. What cannot be read is left where it lies. */
export function kept(storage: MoveStorage): Unsent[] {
  const found: Unsent[] = [];
  for (let n = 0; n < storage.length; n++) {
    const name = storage.key(n) ?? "";
    const one = name.startsWith(PREFIX)
      ? read<Unsent>(storage, name)
      : name.startsWith(BEFORE)
        ? ofBefore(storage, name)
        : undefined;
    if (one) found.push(one);
  }
  return found.sort((a, b) => a.at - b.at);
}

/** False where the browser lets nothing be kept. */
export function keep(storage: MoveStorage, one: Unsent): boolean {
  try {
    storage.setItem(nameOf(one), JSON.stringify(one));
    return true;
  } catch {
    return false;
  }
}

export function drop(storage: MoveStorage, one: Pick<Unsent, "climbId" | "key">): void {
  storage.removeItem(nameOf(one));
  const before = read<{ key: string }>(storage, BEFORE + one.climbId);
  if (before?.key === one.key) storage.removeItem(BEFORE + one.climbId);
}

function ofBefore(storage: MoveStorage, name: string): Unsent | undefined {
  const sent = read<Pick<Unsent, "key" | "move" | "after">>(storage, name);
  return sent && { ...sent, climbId: name.slice(BEFORE.length), called: "", at: 0, says: "an answer" };
}

function read<T>(storage: MoveStorage, name: string): T | undefined {
  try {
    return (JSON.parse(storage.getItem(name) ?? "null") as T | null) ?? undefined;
  } catch {
    return undefined;
  }
}
