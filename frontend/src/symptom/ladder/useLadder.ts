/** The ladder of one draft under edit: what is shown of it, and every deed that the ladder page offers. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Nudge } from "../../advice/nudges/queries";
import { ApiError } from "../../api/client";
import { draftKey, nudgesKey, symptomsKey } from "../../api/keys";
import type { CurvePoint, DraftView, Mend, Suggestion } from "../../api/types";
import { newKey } from "../../draft/keys";
import { useDraft } from "../../draft/useDraft";
import { count, points, tenths } from "../../ui/format";
import { say } from "../../ui/say";
import { useSending } from "../../ui/useSending";
import { useRested } from "../../ui/useSettled";
import { heldAt, mainLine, moved, operationsFor } from "./moves";
import { figuresQuery, reviewQuery, sendPublish } from "./queries";
import type { Refusal } from "./RefusalBar";
import { shownView } from "./shown";
import { AS_JUDGED } from "./useBasis";

const ALL_UNITS: readonly string[] = [];

/** Figures and working form of a draft as one view; undefined until both are there. unit: the sort of unit by which it
 * is looked at; none: as all meet it. basis: by what the figures are. */
export function useDraftView(playbookId: string, unit = ALL_UNITS, basis = AS_JUDGED) {
  const { draft, now } = useDraft(playbookId);
  const client = useQueryClient();
  const { by, taughtAt } = basis;
  // A state that an edit of this page is about to end is not asked for: the server would have to refuse it.
  const isPassing = now.coming !== undefined && now.coming > now.revision;
  const asking = figuresQuery(playbookId, now.revision, unit, basis);
  const figures = useQuery({ ...asking, enabled: now.revision > 0 && !isPassing });
  // Asked for together with the edit that makes a new state; and, where it came to be another one, as soon as that is
  // known, before the page is drawn anew by it.
  useEffect(() => {
    let asked = draft.state().revision;
    return draft.subscribe(() => {
      const { revision, coming = revision } = draft.state();
      if (coming <= asked) return;
      void client.cancelQueries(figuresQuery(playbookId, asked, unit, { by, taughtAt }));
      asked = coming;
      void client.prefetchQuery(figuresQuery(playbookId, coming, unit, { by, taughtAt }));
    });
  }, [draft, client, playbookId, unit, by, taughtAt]);
  const isBehind = now.isAhead || figures.data?.revision !== now.revision || !isOfUnit(figures.data.unit, unit);
  const isStale = figures.error instanceof ApiError && figures.error.status === 412;
  useEffect(() => {
    if (isStale) void draft.look();
  }, [isStale, draft]);
  // Where a state has no figures, or its were asked for too late, those of the state before stay, and are told as such.
  const last = useRef(figures.data);
  if (figures.data) last.current = figures.data;
  const known = last.current;
  const view = useMemo(
    () => (known && now.tree ? shownView(known, now.tree, isBehind) : undefined),
    [known, now.tree, isBehind],
  );
  const error = now.error ?? (isStale ? undefined : figures.error) ?? undefined;
  const retry = () => {
    void draft.start();
    void figures.refetch();
  };
  return { draft, now, view, error, retry };
}

const isOfUnit = (seen: Record<string, string>, unit: readonly string[]): boolean =>
  Object.keys(seen).length === unit.length && unit.every((one) => seen[one.split(":")[0] ?? ""] !== undefined);

export function useLadder(playbookId: string, unit = ALL_UNITS, basis = AS_JUDGED) {
  const shown = useDraftView(playbookId, unit, basis);
  const { draft, now, view } = shown;
  const client = useQueryClient();
  // What is seen first is asked for first: the review follows the figures.
  const reviewed = useQuery(reviewQuery(playbookId, useRested(view?.revision ?? 0))).data;
  const [refusal, setRefusal] = useState<Refusal>();
  const tell = useSpokenOnce(view);

  const take = (order: string[], moving: string[], says: string, onDone: () => void) => {
    if (!now.tree) return;
    setRefusal(undefined);
    if (draft.do(operationsFor(now.tree, order, moving, newKey), says)) onDone();
  };

  /** Move a rung of the main line; what a rule holds stays, and who holds it is told. */
  const move = (key: string, target: (index: number, count: number) => number, onDone: () => void) => {
    if (!view || !now.tree) return;
    const order = mainLine(now.tree);
    const [index, title] = [order.indexOf(key), view.rows.find((row) => row.key === key)?.says ?? "The rung"];
    const to = target(index, order.length);
    if (index < 0 || index === to) return;
    const after = moved(order, key, to);
    const done = (at: number) => () => {
      onDone();
      tell((later) => `${title}, now rung ${count(at + 1)} of ${count(order.length)}. ${costs(later)}`);
    };
    const held = heldAt(order, view.bonds, key, to);
    if (!held) return take(after, [key], `“${title}” moved`, done(to));
    const { both } = held;
    const go =
      both &&
      (() => take(both, [...held.holders, key], `“${title}” moved, with what holds it`, done(both.indexOf(key))));
    setRefusal({ says: held.says, holders: held.holders, ...(go && { wayOn: { label: "Move both", go } }) });
  };

  const publishing = useSending({
    mutationFn: (note: string) => sendPublish(playbookId, now.revision, note),
    onSuccess: async () => {
      await draft.look();
      await Promise.all([
        client.invalidateQueries({ queryKey: draftKey(playbookId) }),
        client.invalidateQueries({ queryKey: ["editions", playbookId] }),
        client.invalidateQueries({ queryKey: symptomsKey }),
        client.invalidateQueries({ queryKey: nudgesKey }),
      ]);
    },
    onError: () => void draft.look(),
  });

  useEffect(() => {
    if (now.revision === 0) return;
    for (const queryKey of [symptomsKey, nudgesKey]) void client.invalidateQueries({ queryKey, refetchType: "none" });
  }, [client, now.revision]);

  return {
    ...shown,
    review: reviewed && view && !view.isBehind && reviewed.revision === view.revision ? reviewed.review : undefined,
    refusal,
    dismiss: () => setRefusal(undefined),
    move,
    publishing,
    takeOrder: (point: CurvePoint, name: string) => {
      const keys = view ? keysByIndex(view) : [];
      const order = point.rungs.flatMap((index) => keys[index] ?? []);
      const left_out = keys.filter((key) => !order.includes(key));
      if (draft.ask({ kind: "order", order, left_out }, `${name} taken`)) {
        tell((later) => `${name} taken. ${costs(later)}`);
      }
    },
    takeSuggestion: ({ ladder, says }: Suggestion) => {
      if (view && ladder) draft.ask({ kind: "suggestion", revision: view.revision, ladder, says }, says);
    },
    /** Whether it was put into the draft. */
    takeNudge: (revision: number, { ladder, adds, says, why }: Nudge): boolean => {
      const whole = `${says}. ${why}`;
      if (!ladder || !draft.ask({ kind: "suggestion", revision, ladder, says: whole, adds }, whole)) return false;
      tell((later) => `Put into the draft. ${costs(later)}`);
      return true;
    },
    takeNewer: (step: string) => draft.ask({ kind: "newer-text", step }, "Newer text taken"),
    mend: ({ code, finding, says }: Mend) => {
      if (draft.ask({ kind: "mend", code, finding }, says)) tell((later) => `${says}: done. ${costs(later)}`);
    },
  };
}

/** Says one sentence about what was done, once the figures of that state are there. */
function useSpokenOnce(view: DraftView | undefined) {
  const waiting = useRef<(view: DraftView) => string>(undefined);
  const isBehind = view?.isBehind;
  useEffect(() => {
    if (!view || isBehind || !waiting.current) return;
    say(waiting.current(view));
    waiting.current = undefined;
  }, [view, isBehind]);
  return (sentence: (view: DraftView) => string) => {
    waiting.current = sentence;
  };
}

/** Keys of the main line's rungs as the figures were made of them. */
const keysByIndex = ({ keys }: DraftView): string[] =>
  Object.entries(keys).flatMap(([path, key]) => (path.includes(".on.") ? [] : [key]));

const costs = ({ forecast: { effort, harm } }: DraftView) =>
  `A case takes ${tenths(effort)} effort minutes and ${points(harm)} harm points.`;
