/** Two lists that every room looks at: the symptoms, and the guided cases that are open. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { openClimbsKey, symptomsKey } from "./keys";

export const symptomsQuery = queryOptions({
  queryKey: symptomsKey,
  queryFn: async ({ signal }) => (await body(api.GET("/api/symptoms", { signal }))).symptoms,
});

/** The guided cases that are open. */
export const openClimbsQuery = queryOptions({
  queryKey: openClimbsKey,
  queryFn: async ({ signal }) => (await body(api.GET("/api/climbs", { signal }))).climbs,
});
