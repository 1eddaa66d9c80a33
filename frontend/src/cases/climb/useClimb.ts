/** One guided case: how it stands, and the way by which every move is kept until the server has acknowledged it. */
import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../../api/me";
import type { Move } from "../../api/types";
import { theOutbox, useCaseQueue } from "../../shell/outbox/useOutbox";
import { moveInWords } from "./moves";
import { climbQuery } from "./queries";

export function useClimb(climbId: string) {
  const query = useQuery(climbQuery(climbId));
  const queue = useCaseQueue(climbId);
  const view = query.data;
  const { data: me } = useQuery(meQuery);
  const record = (move: Move): void => {
    if (!view) return;
    const whose = me?.person ? { person: me.person.id, by: me.person.name } : {};
    const [key, says] = [crypto.randomUUID(), moveInWords(move, view)];
    theOutbox().add({ climbId, called: view.case, key, move, says, ...whose });
  };
  return { query, queue, record };
}
