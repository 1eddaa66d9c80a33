/** One guided case: how it stands, and the way by which every move is kept until the server has acknowledged it. */
import { useQuery } from "@tanstack/react-query";
import type { Move } from "../api/types";
import { theOutbox, useStanding } from "../outbox/useOutbox";
import { inWords } from "./moves";
import { climbQuery } from "./queries";

export function useClimb(climbId: string) {
  const query = useQuery(climbQuery(climbId));
  const standing = useStanding(climbId);
  const view = query.data;
  const record = (move: Move): void => {
    if (!view) return;
    theOutbox().add({ climbId, called: view.case, key: crypto.randomUUID(), move, says: inWords(move, view) });
  };
  return { query, standing, record };
}
