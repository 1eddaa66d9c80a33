/** What the logged cases show of one symptom. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";
import { evidenceKey } from "../api/keys";

export const evidenceQuery = (playbookId: string) =>
  queryOptions({
    queryKey: [...evidenceKey, playbookId],
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/evidence", { params: { path: { playbook_id: playbookId } }, signal })),
  });
