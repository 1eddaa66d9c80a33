/** Drafts in React: one draft kept fresh while it is shown, and the fields that show it. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { meQuery } from "../api/me";
import type { Draft } from "./draft";
import { draftOf, use } from "./drafts";
import type { DraftState } from "./state";
import { alike, type Tree } from "./tree";

const LOOK_EVERY_MS = 4000;

/** One draft, kept fresh while it is shown. */
export function useDraft(playbookId: string): { draft: Draft; now: DraftState } {
  const me = useQuery(meQuery).data;
  const [person, isKnown] = [me?.person?.id, me !== undefined];
  const draft = draftOf(playbookId, person);
  const now = useSyncExternalStore(draft.subscribePage, draft.state);
  useEffect(() => {
    if (!isKnown) return;
    const release = use(draft);
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
      release();
    };
  }, [draft, isKnown]);
  return { draft, now };
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
