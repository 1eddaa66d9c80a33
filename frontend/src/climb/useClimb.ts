/** One guided case: how it stands, and the way by which every move is kept until the server has acknowledged it. */
import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../api/me";
import type { Move } from "../api/types";
import { theOutbox, useStanding } from "../outbox/useOutbox";
import { inWords } from "./moves";
import { climbQuery } from "./queries";

export function useClimb(climbId: string) {
  const query = useQuery(climbQuery(climbId));
  const standing = useStanding(climbId);
  const view = query.data;
  const { data: me } = useQuery(meQuery);
  const record = (move: Move): void => {
    if (!view) return;
    const whose = me?.person ? { person: me.person.id, by: me.person.name } : {};
    const [key, says] = [crypto.randomUUID(), inWords(move, view)];
    theOutbox().add({ climbId, called: view.case, key, move, says, ...whose });
  };
  return { query, standing, record };
}
