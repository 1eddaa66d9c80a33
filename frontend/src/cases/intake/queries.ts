/** Files of cases that are being brought in, and leaving that off. */
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body } from "../../api/client";
import type { Job } from "../../api/types";
import { useSending } from "../../ui/useSending";

/** A shell may begin to bring a file in at any time. */
const AGAIN_AFTER = { underWay: 1000, otherwise: 5000 };
const GOING_ON: readonly string[] = ["waiting", "running", "cancelling"];

export const goesOn = (job: Job) => GOING_ON.includes(job.state);

/** Asked again, more often while something is being brought in. */
export const importsQuery = queryOptions({
  queryKey: ["jobs", "importing"],
  queryFn: async ({ signal }) =>
    (await body(api.GET("/api/jobs", { params: { query: { kind: "importing" } }, signal }))).jobs,
  refetchInterval: (query) => (query.state.data?.some(goesOn) ? AGAIN_AFTER.underWay : AGAIN_AFTER.otherwise),
});

export function useCancelImport() {
  const client = useQueryClient();
  return useSending({
    mutationFn: (number: number) => body(api.POST("/api/jobs/{number}/cancel", { params: { path: { number } } })),
    onSettled: () => client.invalidateQueries({ queryKey: importsQuery.queryKey }),
  });
}
