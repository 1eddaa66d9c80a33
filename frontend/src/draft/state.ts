/** What a draft in a page is told by the server, what it needs from around it, and how it says that things stand. */
import type { Schemas } from "../api/client";
import type { Conflict } from "./apply";
import type { EditStorage, Pending } from "./storage";
import type { Tree } from "./tree";

export type Since = Schemas["Since"];
export type DraftForm = Schemas["DraftForm"];
export type SendEdit = Schemas["SendEdit"];
export type Flaw = Schemas["Flaw"];
export type EditView = Schemas["EditView"];
export type Change = Schemas["Change"];

/** An answer about what has come, and that it was taken in: only then is it not asked for again. */
export interface Heard {
  since: Since;
  taken: () => void;
}

export interface Server {
  read: (clients: readonly string[]) => Promise<DraftForm>;
  /** What has come since a revision; undefined for nothing. */
  since: (base: number, client: string) => Promise<Heard | undefined>;
  send: (edit: SendEdit) => Promise<Since>;
}

export interface DraftHost {
  playbookId: string;
  /** Who sits here; undefined while nobody has said. */
  person: number | undefined;
  storage: EditStorage;
  server: Server;
  /** Begin to hear of what other pages of this browser do. */
  listen: () => void;
  /** Holds a client for as long as this page lives; false where another page of this browser holds it. */
  hold: (client: string) => Promise<boolean>;
  letGo: () => void;
  /** Other pages of this browser should look. */
  tell: () => void;
}

/** How things stand, for whoever shows them. A new object with every change. */
export interface DraftState {
  tree: Tree | undefined;
  /** The newest revision that is confirmed. */
  revision: number;
  /** The revision that comes of the edit that is on its way, as far as this page can know; undefined while none is, or
   * more wait behind it. */
  coming: number | undefined;
  /** Whether anything is shown that the server has not confirmed. */
  isAhead: boolean;
  waiting: number;
  /** Why what waits has not got through; undefined while it is on its first way. */
  held: string | undefined;
  refused: readonly Pending[];
  conflicts: readonly Conflict[];
  flaws: readonly Flaw[];
  undo: { label: string } | undefined;
  redo: { label: string } | undefined;
  saved: { who: string; at: string; label: string } | undefined;
  here: readonly string[];
  /** What somebody else did last. */
  others: EditView | undefined;
  error: Error | undefined;
}
