/** One guided case: every answer counts once the server has acknowledged it, and is never lost before that. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError } from "../api/client";
import type { ClimbView, Move } from "../api/types";
import { casesKey } from "../cases/queries";
import { openClimbsKey } from "../desk/queries";
import { symptomsKey } from "../shell/queries";
import { climbKey, climbQuery, sendClimbMove } from "./queries";
import { keepWaiting, stopWaiting, waiting } from "./waiting";

/** A move to be sent; the event that it follows is looked up when its turn comes, unless it was sent before. */
interface Asked {
  key: string;
  move: Move;
  after?: number;
}

export function useClimb(climbId: string) {
  const client = useQueryClient();
  const query = useQuery(climbQuery(climbId));
  const [unsent, setUnsent] = useState(() => waiting(climbId));

  const sending = useMutation({
    scope: { id: `climb ${climbId}` },
    mutationFn: ({ key, move, after }: Asked) => {
      const sent = { key, move, after: after ?? client.getQueryData<ClimbView>(climbKey(climbId))?.number ?? 0 };
      keepWaiting(climbId, sent);
      return sendClimbMove(climbId, sent);
    },
    onSuccess: (view) => {
      stopWaiting(climbId);
      setUnsent(undefined);
      client.setQueryData(climbKey(climbId), view);
      const touched = view.place === "ended" ? [symptomsKey, casesKey, ["evidence"], openClimbsKey] : [openClimbsKey];
      for (const queryKey of touched) client.invalidateQueries({ queryKey });
    },
    onError: (error) => {
      if (error instanceof ApiError && error.status === 0) setUnsent(waiting(climbId));
      else {
        stopWaiting(climbId);
        setUnsent(undefined);
      }
      if (error instanceof ApiError && [409, 412].includes(error.status))
        client.refetchQueries({ queryKey: climbKey(climbId) });
    },
  });

  const record = (move: Move) => {
    // A key pressed twice must not answer the next step too; notes and earlier tries fit anywhere and queue up.
    const canWait = move.kind === "note" || move.kind === "tried-before";
    if (query.data && !unsent && (canWait || !sending.isPending)) sending.mutate({ key: crypto.randomUUID(), move });
  };
  return {
    query,
    record,
    isSending: sending.isPending,
    refusal: unsent ? undefined : (sending.error?.message ?? undefined),
    unsent,
    sendAgain: () => unsent && sending.mutate(unsent),
    dismiss: () => sending.reset(),
  };
}
