/** What to change next, over all symptoms. */
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { nudgesKey } from "../../api/keys";
import { useSending } from "../../ui/useSending";

export type WhatToChange = Schemas["WhatToChange"];
export type Nudge = Schemas["Nudge"];
export type Followed = Schemas["Followed"];
export type NamedDrift = Schemas["NamedDrift"];
export type Month = Schemas["Month"];
export type SymptomNudges = Schemas["SymptomNudges"];

/** While some are being worked out it is asked again. */
const AGAIN_AFTER = 2000;

export const nudgesQuery = queryOptions({
  queryKey: nudgesKey,
  queryFn: ({ signal }) => body(api.GET("/api/nudges", { signal })),
  refetchInterval: ({ state }) => (state.data?.waiting ? AGAIN_AFTER : false),
});

interface Declining {
  playbook: string;
  key: string;
  isForGood: boolean;
  why: string;
}

export function useDecline() {
  const client = useQueryClient();
  return useSending({
    mutationFn: ({ playbook, key, isForGood, why }: Declining) =>
      body(
        api.POST("/api/nudges/{playbook_id}/{key}/declined", {
          params: { path: { playbook_id: playbook, key } },
          body: { is_for_good: isForGood, why },
        }),
      ),
    onSuccess: (found) => client.setQueryData(nudgesKey, found),
  });
}

/** A month, as 2026-03; none: the last whole one. */
export const monthQuery = (month: string | undefined) =>
  queryOptions({
    queryKey: ["month", month] as const,
    queryFn: ({ signal }) => body(api.GET("/api/month", { params: { query: month ? { month } : {} }, signal })),
  });
