/** What the Desk shows beside the symptoms: the guided cases that are open. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";
import { openClimbsKey } from "../api/keys";

export const openClimbsQuery = queryOptions({
  queryKey: openClimbsKey,
  queryFn: async ({ signal }) => (await body(api.GET("/api/climbs", { signal }))).climbs,
});
