/** How each row of a ladder stands beside its rung, read by key: a row is drawn anew only when something of its own has
 * changed, whatever happens to the others. */
import { createContext, useContext, useSyncExternalStore } from "react";
import type { KeyName } from "../../ui/keys";
import type { Level } from "../review/words";
import type { RowBrackets } from "./brackets";

export interface RowState extends Partial<RowBrackets> {
  /** The gravest thing that review, or a flaw, has to say of it. */
  level?: Level | undefined;
  isChosen?: boolean;
  /** Its title is typed in its row. */
  isEditing?: boolean;
  isPicked?: boolean;
  /** It holds the rung that somebody tried to move. */
  isHolding?: boolean;
}

/** What is done to rungs from their rows. */
export interface RowActs {
  choose: (key: string) => void;
  /** Go to the rung that stands so many rows off. */
  step: (key: string, by: number) => void;
  moveBy: (key: string, by: number) => void;
  /** Its title is typed no more. isBack: the keyboard comes back to the rung. */
  titled: (key: string, isBack: boolean) => void;
  /** What a key asks to be done with a rung. */
  act: (key: string, name: KeyName) => void;
}

const PLAIN: RowState = {};

export class RowStore {
  private readonly listeners = new Map<string, Set<() => void>>();

  constructor(private states: ReadonlyMap<string, RowState>) {}

  of = (key: string): RowState => this.states.get(key) ?? PLAIN;

  /** How all rows stand from now on; those that stand otherwise than before are told. */
  take(states: ReadonlyMap<string, RowState>): void {
    const before = this.states;
    const next = new Map<string, RowState>();
    const changed: string[] = [];
    for (const key of new Set([...before.keys(), ...states.keys()])) {
      const [was, is] = [before.get(key) ?? PLAIN, states.get(key) ?? PLAIN];
      if (!isSame(was, is)) changed.push(key);
      if (states.has(key)) next.set(key, isSame(was, is) ? was : is);
    }
    this.states = next;
    for (const key of changed) for (const listener of this.listeners.get(key) ?? []) listener();
  }

  subscribe(key: string, listener: () => void): () => void {
    const mine = this.listeners.get(key) ?? new Set();
    this.listeners.set(key, mine.add(listener));
    return () => {
      mine.delete(listener);
      if (mine.size === 0) this.listeners.delete(key);
    };
  }
}

function isSame(one: RowState, other: RowState): boolean {
  const names = new Set([...Object.keys(one), ...Object.keys(other)]) as Set<keyof RowState>;
  return [...names].every((name) => (one[name] || undefined) === (other[name] || undefined));
}

interface Rows {
  store: RowStore;
  acts: RowActs;
}

const Context = createContext<Rows | undefined>(undefined);
export const RowsPlace = Context.Provider;

function useRows(): Rows {
  const rows = useContext(Context);
  if (!rows) throw new Error("a row stands in a ladder");
  return rows;
}

/** How a row stands; it is told of nothing else. */
export function useRow(key: string): RowState {
  const { store } = useRows();
  return useSyncExternalStore(
    (listener) => store.subscribe(key, listener),
    () => store.of(key),
  );
}

export const useRowActs = (): RowActs => useRows().acts;
