/** What quick words say, as the server reads them. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";

export type QuickStep = Schemas["QuickStep"];
export type FoundStep = Schemas["FoundStep"];

export const readQuick = (text: string, playbook: string | undefined, signal?: AbortSignal) =>
  body(api.POST("/api/quick-words", { body: { text, playbook: playbook ?? null }, ...(signal && { signal }) }));

export const quickQuery = (text: string, playbook: string | undefined) =>
  queryOptions({
    queryKey: ["quick-words", playbook ?? "", text],
    queryFn: ({ signal }) => readQuick(text, playbook, signal),
    staleTime: 60_000,
    retry: false,
    placeholderData: keepPreviousData,
  });

/** Steps of the library whose titles have the words, but those that the playbook has. */
export const foundStepsQuery = (text: string, playbook: string) =>
  queryOptions({
    queryKey: ["found-steps", playbook, text],
    queryFn: ({ signal }) => body(api.GET("/api/found-steps", { params: { query: { text, playbook } }, signal })),
    staleTime: 30_000,
    retry: false,
  });
