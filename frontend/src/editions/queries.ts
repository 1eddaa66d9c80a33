/** The editions of a playbook. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";

export const editionsQuery = (playbookId: string) =>
  queryOptions({
    queryKey: ["editions", playbookId] as const,
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/editions", { params: { path: { playbook_id: playbookId } }, signal })),
  });
