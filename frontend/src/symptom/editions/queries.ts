/** The editions of a playbook. */
import { queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import type { ReplayView } from "../../api/types";
import { answered, untilThere } from "../../api/working";

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
    queryFn: ({ signal }) =>
      answered<ReplayView>(
        body(
          api.GET("/api/playbooks/{playbook_id}/replay", {
            params: { path: { playbook_id: playbookId }, query: { before, after } },
            signal,
          }),
        ),
      ),
    ...untilThere,
  });

export type SideBySideView = Schemas["SideBySide"];

export const sideBySideKey = (playbookId: string) => ["side by side", playbookId] as const;

/** The last trial; and what one of this pair would take. */
export const sideBySideQuery = (
  playbookId: string,
  pair: { a: number; b: number } | undefined,
  difference: number | undefined,
) =>
  queryOptions({
    queryKey: [...sideBySideKey(playbookId), pair, difference],
    queryFn: ({ signal }) =>
      body(
        api.GET("/api/playbooks/{playbook_id}/side-by-side", {
          params: { path: { playbook_id: playbookId }, query: { ...pair, ...(difference && { difference }) } },
          signal,
        }),
      ),
    placeholderData: (shown: SideBySideView | undefined, query) =>
      query?.queryKey[1] === playbookId ? shown : undefined,
  });

export const begunSideBySide = (playbookId: string, asked: Schemas["AskTrial"]) =>
  body(
    api.POST("/api/playbooks/{playbook_id}/side-by-side", {
      params: { path: { playbook_id: playbookId } },
      body: asked,
    }),
  );

export const stoppedSideBySide = (playbookId: string) =>
  body(api.DELETE("/api/playbooks/{playbook_id}/side-by-side", { params: { path: { playbook_id: playbookId } } }));
