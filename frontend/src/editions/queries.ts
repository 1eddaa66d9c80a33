/** The editions of a playbook. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";
import type { ReplayView } from "../api/types";
import { untilThere, whole } from "../api/working";

export const editionsQuery = (playbookId: string) =>
  queryOptions({
    queryKey: ["editions", playbookId] as const,
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/editions", { params: { path: { playbook_id: playbookId } }, signal })),
  });

/** Both on the logged cases. revision: of the draft, where one of the two is the draft. */
export const replayQuery = (playbookId: string, before: string, after: string, revision: number | undefined) =>
  queryOptions({
    queryKey: ["replay", playbookId, before, after, revision] as const,
    queryFn: async ({ signal }) => ({
      answer: whole<ReplayView>(
        await body(
          api.GET("/api/playbooks/{playbook_id}/replay", {
            params: { path: { playbook_id: playbookId }, query: { before, after } },
            signal,
          }),
        ),
      ),
    }),
    ...untilThere,
  });
