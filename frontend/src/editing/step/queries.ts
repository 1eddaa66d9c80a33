/** What the server knows of a step beside the library's. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { draftKey } from "../../api/keys";

export type Becoming = Schemas["Becoming"];

const at = (playbookId: string, key: string) => ({ params: { path: { playbook_id: playbookId, key } } });

export const besideLibraryQuery = (playbookId: string, step: string, revision: number) =>
  queryOptions({
    queryKey: [...draftKey(playbookId), "beside library", step, revision],
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/draft/steps/{key}/library", { ...at(playbookId, step), signal })),
    enabled: revision > 0,
    retry: false,
    placeholderData: (before, query) => (query?.queryKey.at(-2) === step ? keepPreviousData(before) : undefined),
  });

export const becomingQuery = (playbookId: string, step: string, revision: number) =>
  queryOptions({
    queryKey: [...draftKey(playbookId), "everywhere", step, revision],
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/draft/steps/{key}/everywhere", { ...at(playbookId, step), signal })),
    retry: false,
  });
