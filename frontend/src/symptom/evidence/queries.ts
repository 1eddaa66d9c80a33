/** What the logged cases show of one symptom, and what is estimated from them. */
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body } from "../../api/client";
import { evidenceKey, nudgesKey } from "../../api/keys";
import type { EstimateView } from "../../api/types";
import { answered, untilThere } from "../../api/working";
import { useSending } from "../../ui/useSending";
import { asQuery, EVERYTHING, type Looked } from "./filters";

/** So often a newer estimate is asked for while an older one is shown. */
const NEWER_AFTER = 1000;
/** So often the figures are asked for while cases are counted anew. */
const RECOUNTED_AFTER = 2000;

/** While another filter is worked out, the figures before it stay; those of another symptom never. */
const stays =
  (playbookId: string) =>
  <T>(before: T | undefined, query: { queryKey: readonly unknown[] } | undefined): T | undefined =>
    query?.queryKey[1] === playbookId ? before : undefined;

export const evidenceQuery = (playbookId: string, looked: Looked = EVERYTHING) =>
  queryOptions({
    queryKey: [...evidenceKey, playbookId, looked],
    queryFn: ({ signal }) =>
      body(
        api.GET("/api/playbooks/{playbook_id}/evidence", {
          params: { path: { playbook_id: playbookId }, query: asQuery(looked) },
          signal,
        }),
      ),
    placeholderData: stays(playbookId),
    refetchInterval: ({ state }) => (state.data?.recounting ? RECOUNTED_AFTER : false),
  });

interface Asked {
  data?: { answer?: EstimateView | undefined } | undefined;
  error: Error | null;
  dataUpdateCount: number;
}

/** cases: how many there are, so that the estimate is made anew once there are more. */
export const estimateQuery = (playbookId: string, looked: Looked, cases: number | undefined) =>
  queryOptions({
    queryKey: ["estimate", playbookId, looked, cases],
    queryFn: ({ signal }) =>
      answered<EstimateView>(
        body(
          api.GET("/api/playbooks/{playbook_id}/estimate", {
            params: { path: { playbook_id: playbookId }, query: asQuery(looked) },
            signal,
          }),
        ),
      ),
    ...untilThere,
    placeholderData: stays(playbookId),
    enabled: cases !== undefined && cases > 0,
    refetchInterval: ({ state }: { state: Asked }) =>
      !state.error && state.data?.answer?.is_stale ? NEWER_AFTER : untilThere.refetchInterval({ state }),
  });

/** Say what a name in the log is. step: of the playbook; null: one of its own. */
export function useSayName(playbookId: string) {
  const recount = useRecount(playbookId);
  return useSending({
    mutationFn: (said: { name: string; step: string | null }) =>
      body(
        api.POST("/api/playbooks/{playbook_id}/names", { params: { path: { playbook_id: playbookId } }, body: said }),
      ),
    onSettled: recount,
  });
}

export function useTakeNameBack(playbookId: string) {
  const recount = useRecount(playbookId);
  return useSending({
    mutationFn: (name: string) =>
      body(
        api.DELETE("/api/playbooks/{playbook_id}/names", {
          params: { path: { playbook_id: playbookId }, query: { name } },
        }),
      ),
    onSettled: recount,
  });
}

/** Keep the cases that were brought in out of what is estimated, or let them speak again. */
export function useKeepOut(playbookId: string) {
  const recount = useRecount(playbookId);
  return useSending({
    mutationFn: (is_kept_out: boolean) =>
      body(
        api.PUT("/api/playbooks/{playbook_id}/brought-in", {
          params: { path: { playbook_id: playbookId } },
          body: { is_kept_out },
        }),
      ),
    onSettled: recount,
  });
}

/** It may have been said though nobody was told, or by somebody else meanwhile. */
function useRecount(playbookId: string) {
  const client = useQueryClient();
  return () =>
    Promise.all(
      [
        [...evidenceKey, playbookId],
        ...["estimate", "learned", "replay"].map((what) => [what, playbookId]),
        nudgesKey,
      ].map((queryKey) => client.invalidateQueries({ queryKey })),
    );
}
