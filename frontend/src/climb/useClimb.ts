/** One guided case: every answer counts once the server has acknowledged it, and is never lost before that. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError } from "../api/client";
import type { Move } from "../api/types";
import { casesKey } from "../cases/queries";
import { openClimbsKey } from "../desk/queries";
import { symptomsKey } from "../shell/queries";
import { climbKey, climbQuery, type Sent, sendClimbMove } from "./queries";
import { keepWaiting, stopWaiting, waiting } from "./waiting";

export function useClimb(climbId: string) {
  const client = useQueryClient();
  const query = useQuery(climbQuery(climbId));
  const [unsent, setUnsent] = useState(() => waiting(climbId));

  const sending = useMutation({
    scope: { id: `climb ${climbId}` },
    mutationFn: (sent: Sent) => {
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
    onError: (error, sent) => {
      if (error instanceof ApiError && error.status === 0) setUnsent(sent);
      else {
        stopWaiting(climbId);
        setUnsent(undefined);
      }
      if (error instanceof ApiError && [409, 412].includes(error.status))
        client.refetchQueries({ queryKey: climbKey(climbId) });
    },
  });

  const record = (move: Move) => {
    if (query.data && !sending.isPending && !unsent) {
      sending.mutate({ key: crypto.randomUUID(), after: query.data.number, move });
    }
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
