/** What a condition means that somebody is typing. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { draftKey } from "./keys";

export const conditionQuery = (playbookId: string, text: string) =>
  queryOptions({
    queryKey: [...draftKey(playbookId), "condition", text],
    queryFn: ({ signal }) =>
      body(
        api.POST("/api/playbooks/{playbook_id}/draft/condition", {
          params: { path: { playbook_id: playbookId } },
          body: { text },
          signal,
        }),
      ),
    retry: false,
    placeholderData: keepPreviousData,
  });
