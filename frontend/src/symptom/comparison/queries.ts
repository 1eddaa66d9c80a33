/** What changed between two documents of a playbook. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../../api/client";

/** `revision`: of the draft, when one of the two is the draft; editions never change. */
export const compareQuery = (playbookId: string, before: string, after: string, revision?: number) =>
  queryOptions({
    queryKey: ["compare", playbookId, before, after, [before, after].includes("draft") ? revision : undefined] as const,
    queryFn: ({ signal }) =>
      body(
        api.GET("/api/playbooks/{playbook_id}/compare", {
          params: { path: { playbook_id: playbookId }, query: { before, after } },
          signal,
        }),
      ),
    retry: false,
  });
