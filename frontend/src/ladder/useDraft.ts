/** One draft under edit: changes go to the server one after the other, each upon the answer to the one before. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError } from "../api/client";
import { symptomsKey } from "../api/keys";
import type { DraftView, Mend, Playbook } from "../api/types";
import {
  draftKey,
  draftQuery,
  sendDocument,
  sendMend,
  sendMove,
  sendPublish,
  sendRedo,
  sendReorder,
  sendRestore,
  sendTakeNewer,
  sendUndo,
} from "./queries";
import { rungKeys } from "./rungs";

/** Why a change was not made, and what can be done about it. */
export interface Refusal {
  says: string;
  /** Keys of the rungs that hold the moved one. */
  holders: string[];
  wayOn?: { label: string; go: () => void };
}

interface Edit {
  send: (draft: DraftView) => Promise<DraftView>;
  /** The same change in the other way, when this one is refused. */
  otherwise?: { label: string; edit: Edit };
  onDone?: (draft: DraftView) => void;
}

/** Where a rung is to go, worked out on the draft as it stands when the move is sent. */
type Target = (index: number, count: number) => number;

export function useDraft(playbookId: string) {
  const client = useQueryClient();
  const query = useQuery(draftQuery(playbookId));
  const key = draftKey(playbookId);
  const [refusal, setRefusal] = useState<Refusal>();

  const changing = useMutation({
    scope: { id: `draft ${playbookId}` },
    mutationFn: async (edit: Edit) => {
      await client.cancelQueries({ queryKey: key });
      const draft = client.getQueryData<DraftView>(key);
      if (!draft) throw new Error("the draft is not here yet");
      return edit.send(draft);
    },
    onSuccess: (draft, edit) => {
      client.setQueryData(key, draft);
      client.invalidateQueries({ queryKey: symptomsKey, refetchType: "none" });
      setRefusal(undefined);
      edit.onDone?.(draft);
    },
    onError: async (error, edit) => {
      const before = client.getQueryData<DraftView>(key);
      if (error instanceof ApiError && error.status === 412) await client.refetchQueries({ queryKey: key });
      setRefusal(refusalOf(error, edit, before, changing.mutate));
    },
  });

  const publishing = useMutation({
    mutationFn: async (note: string) => {
      if (!query.data) throw new Error("the draft is not here yet");
      return sendPublish(query.data, note);
    },
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: key }),
        client.invalidateQueries({ queryKey: ["editions", playbookId] }),
        client.invalidateQueries({ queryKey: symptomsKey }),
      ]),
  });

  return {
    query,
    refusal,
    dismiss: () => setRefusal(undefined),
    isSaving: changing.isPending,
    publishing,
    move: (rung: string, target: Target, onDone?: (draft: DraftView) => void) =>
      changing.mutate(moveEdit(rung, target, onDone)),
    takeNewer: (step: string) => changing.mutate({ send: (draft) => sendTakeNewer(draft, step) }),
    /** Another order of the rungs, worked out on the revision given; a draft that has moved on refuses it. */
    reorder: (order: number[], label: string, revision: number, onDone?: (draft: DraftView) => void) =>
      changing.mutate({
        send: (draft) => sendReorder({ ...draft, revision }, order, label),
        ...(onDone && { onDone }),
      }),
    mend: (mend: Mend, onDone: (draft: DraftView) => void) =>
      changing.mutate({ send: (draft) => sendMend(draft, mend), onDone }),
    restore: (edition: number, onDone: (draft: DraftView) => void) =>
      changing.mutate({ send: (draft) => sendRestore(draft, edition), onDone }),
    undo: () => changing.mutate(undoEdit(sendUndo, "undo")),
    redo: () => changing.mutate(undoEdit(sendRedo, "redo")),
    saveDocument: (change: (playbook: Playbook) => Playbook, label: string) =>
      changing.mutate({ send: (draft) => sendDocument(draft, change(draft.playbook), label) }),
  };
}

function moveEdit(rung: string, target: Target, onDone?: (draft: DraftView) => void, both = false): Edit {
  return {
    send: async (draft) => {
      const source = rungKeys(draft).indexOf(rung);
      const to = target(source, draft.playbook.ladder.length);
      return source < 0 || source === to ? draft : sendMove(draft, source, to, both);
    },
    ...(both ? {} : { otherwise: { label: "Move both", edit: moveEdit(rung, target, onDone, true) } }),
    ...(onDone && { onDone }),
  };
}

type SendUndo = (draft: DraftView, evenOthers: boolean) => Promise<DraftView>;

function undoEdit(send: SendUndo, verb: "undo" | "redo"): Edit {
  return {
    send: (draft) => send(draft, false),
    otherwise: {
      label: `${verb === "undo" ? "Undo" : "Redo"} it all the same`,
      edit: { send: (draft) => send(draft, true) },
    },
  };
}

function refusalOf(error: Error, edit: Edit, before: DraftView | undefined, send: (edit: Edit) => void): Refusal {
  const refusal: Refusal = { says: error.message, holders: [] };
  if (!(error instanceof ApiError)) return refusal;
  const again = { label: "Make my change again", go: () => send(edit) };
  if (error.status === 412 || error.status === 0) return { ...refusal, wayOn: again };
  if (error.status !== 409 || !edit.otherwise) return refusal;
  const { label, edit: other } = edit.otherwise;
  const keys = before ? rungKeys(before) : [];
  return {
    ...refusal,
    holders: (error.problem.holders ?? []).flatMap((index) => keys[index] ?? []),
    wayOn: { label, go: () => send(other) },
  };
}
