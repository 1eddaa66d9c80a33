/** Edits of drafts that the server has not acknowledged, kept in this browser over reloads, crashes and lost lines. */
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Schemas } from "../api/client";
import type { Operation } from "./apply";

export type Deed = NonNullable<Schemas["SendEdit"]["deed"]>;

/** One edit of one page, made by one person. It holds operations, or undoes a group, or has the server do a deed. */
export interface Pending {
  playbookId: string;
  person: number;
  client: string;
  number: number;
  group: string;
  /** What it does, in the words of the screen. */
  says: string;
  /** Orders what one browser made. */
  at: number;
  operations?: Operation[];
  undo?: string;
  deed?: Deed;
  /** It was on its way once, and is never changed from then on. */
  isSent?: boolean;
  /** Why the server will not have it. */
  refused?: string;
}

export interface EditStorage {
  /** Playbooks of whose drafts something of this person waits. */
  waitingOf(person: number): Promise<string[]>;
  all(playbookId: string, person: number): Promise<Pending[]>;
  keep(one: Pending): Promise<void>;
  drop(one: Pending): Promise<void>;
}

interface Kept extends DBSchema {
  edits: { key: [string, number, string, number]; value: Pending };
}

const NAME = "mild-ladder-drafts";
let opened: Promise<IDBPDatabase<Kept>> | undefined;

function database(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>(NAME, 1, {
    upgrade: (made) => {
      made.createObjectStore("edits", { keyPath: ["playbookId", "person", "client", "number"] });
    },
  });
  return opened;
}

/** In the browser's own database; where it keeps nothing, edits live as long as the page does. */
export const browserStorage: EditStorage = {
  waitingOf: async (person) => {
    try {
      const all = await (await database()).getAll("edits");
      return [...new Set(all.filter((one) => one.person === person).map((one) => one.playbookId))];
    } catch {
      return [];
    }
  },
  all: async (playbookId, person) => {
    try {
      const from = [playbookId, person, "", 0] as [string, number, string, number];
      const to = [playbookId, person, "\uffff", 0] as [string, number, string, number];
      const found = await (await database()).getAll("edits", IDBKeyRange.bound(from, to));
      return found.sort((one, other) => one.at - other.at || one.number - other.number);
    } catch {
      return [];
    }
  },
  keep: (one) => quietly(async () => void (await (await database()).put("edits", one))),
  drop: ({ playbookId, person, client, number }) =>
    quietly(async () => (await database()).delete("edits", [playbookId, person, client, number])),
};

async function quietly(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch {
    // A browser that keeps nothing still lets one work.
  }
}
