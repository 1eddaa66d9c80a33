/** Drafts in React: one for each playbook and person, as long as the page lives, and the fields that show them. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { meQuery } from "../api/me";
import { Draft } from "./draft";
import { serverOf } from "./server";
import type { Standing } from "./standing";
import { browserShelf } from "./storage";
import { alike, type Tree } from "./tree";

const LOOK_EVERY_MS = 4000;
const CHANNEL = "mild-ladder-drafts";

const drafts = new Map<string, Draft>();
let sitting: number | undefined;

/** The draft of whoever sits here. With another person, each page's part ends: what waits is kept for its own. */
function draftOf(playbookId: string, person: number | undefined): Draft {
  if (person !== sitting) {
    for (const draft of drafts.values()) draft.end();
    drafts.clear();
    sitting = person;
  }
  const there = drafts.get(playbookId);
  if (there) return there;
  const channel = "BroadcastChannel" in window ? new BroadcastChannel(CHANNEL) : undefined;
  const releases: (() => void)[] = [];
  const made = new Draft({
    playbookId,
    person,
    shelf: browserShelf,
    server: serverOf(playbookId, person),
    hold: (client) => hold(client, releases),
    letGo: () => {
      for (const release of releases) release();
      channel?.close();
    },
    tell: () => channel?.postMessage(playbookId),
  });
  if (channel) {
    channel.onmessage = ({ data }) => {
      if (data === playbookId && made.isShown) void made.look();
    };
  }
  drafts.set(playbookId, made);
  return made;
}

/** Hold a client's queue for as long as this page lives; false where another page holds it. */
function hold(client: string, releases: (() => void)[]): Promise<boolean> {
  if (!navigator.locks) return Promise.resolve(true);
  return new Promise((resolve) => {
    const name = `mild-ladder-draft ${client}`;
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      if (!lock) return undefined;
      return new Promise<void>((release) => {
        releases.push(release);
      });
    });
  });
}

window.addEventListener("pagehide", () => {
  for (const draft of drafts.values()) draft.flush();
});
window.addEventListener("online", () => {
  for (const draft of drafts.values()) draft.sendNow();
});

/** A key that is no letter, or a press, may begin a deed that is worked out from the page: that is drawn first. */
function catchUpBeforeDeeds(event: Event): void {
  const isLetter = event instanceof KeyboardEvent && event.key.length === 1 && !event.ctrlKey && !event.metaKey;
  if (isLetter) return;
  for (const draft of drafts.values()) draft.catchUp();
}
for (const kind of ["keydown", "pointerup", "paste", "drop"]) window.addEventListener(kind, catchUpBeforeDeeds, true);

/** One draft, kept fresh while it is shown. */
export function useDraft(playbookId: string): { draft: Draft; now: Standing } {
  const me = useQuery(meQuery).data;
  const [person, isKnown] = [me?.person?.id, me !== undefined];
  const draft = draftOf(playbookId, person);
  const now = useSyncExternalStore(draft.subscribePage, draft.state);
  useEffect(() => {
    if (!isKnown) return;
    void draft.start();
    const look = () => {
      if (document.visibilityState === "visible") void draft.look();
    };
    const every = setInterval(look, LOOK_EVERY_MS);
    document.addEventListener("visibilitychange", look);
    return () => {
      clearInterval(every);
      document.removeEventListener("visibilitychange", look);
      draft.flush();
    };
  }, [draft, isKnown]);
  return { draft, now };
}

/** Send what an earlier page of that person left, unless somebody else sits here meanwhile. */
export function sendLeft(playbooks: readonly string[], person: number): void {
  if (sitting === undefined || sitting === person) for (const one of playbooks) void draftOf(one, person).start();
}

interface Field {
  text: string;
  onFocus: () => void;
  onType: (text: string) => void;
  onLeave: () => void;
  /** Back to what stood there when the cursor came. */
  onEscape: () => void;
}

/** How a field is shown as text, and what a text typed into it means. `there`: what it holds now. */
export interface Way {
  read: (value: unknown) => string;
  write: (text: string, there: unknown) => unknown;
}

const PLAIN: Way = { read: (value) => (typeof value === "string" ? value : ""), write: (text) => text || null };

/** A text of the draft under the cursor: while it has that, no answer writes into it, and what is typed says what the
 * person had before them. */
export function useField(draft: Draft, key: string, path: readonly string[], says: string, way: Way = PLAIN): Field {
  const value = useValue(draft, key, path);
  const shown = way.read(value);
  const [typed, setTyped] = useState<string>();
  /** What this field sent last, or held when the cursor came. */
  const had = useRef<unknown>(null);
  const atFirst = useRef("");
  const onType = (text: string) => {
    if (typed === undefined) had.current = value ?? null;
    setTyped(text);
    const next = way.write(text, had.current) ?? null;
    if (alike(had.current, next)) return;
    if (draft.type(key, path, had.current, next, says)) had.current = next;
  };
  return {
    text: typed ?? shown,
    onFocus: () => {
      had.current = value ?? null;
      atFirst.current = shown;
      setTyped(shown);
    },
    onType,
    onLeave: () => {
      setTyped(undefined);
      draft.flush();
    },
    onEscape: () => onType(atFirst.current),
  };
}

/** What a field holds, told with every key. */
export const useValue = (draft: Draft, key: string, path: readonly string[]): unknown =>
  useSyncExternalStore(draft.subscribe, () => valueIn(draft.state().tree, key, path));

function valueIn(tree: Tree | undefined, key: string, path: readonly string[]): unknown {
  return tree?.items.has(key) ? tree.value(key, path) : undefined;
}
