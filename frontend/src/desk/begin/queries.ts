/** Beginning a playbook: from a title, from a file, or from the log. */
import { queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { answered, untilThere } from "../../api/working";

export type Preview = Schemas["ImportPreview"];
export type FirstLadder = Schemas["FirstLadder"];
export type Choice = "library" | "file" | "copy";

export const begun = (title: string) => body(api.POST("/api/playbooks", { body: { title } }));

/** Bring a playbook file or an archive in, or tell what that would do. */
export const brought = (file: Blob, preview: boolean, choices: Record<string, Choice> = {}) =>
  body(
    api.POST("/api/playbooks/file", {
      params: {
        query: {
          preview,
          step: Object.entries(choices)
            .map(([step, choice]) => `${step}=${choice}`)
            .join(","),
        },
      },
      body: file as never,
      bodySerializer: (value: unknown) => value as never,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );

export const withoutPlaybookQuery = queryOptions({
  queryKey: ["first ladders"] as const,
  queryFn: ({ signal }) => body(api.GET("/api/first-ladders", { signal })),
});

export const firstLadderQuery = (symptom: string) =>
  queryOptions({
    queryKey: ["first ladder", symptom] as const,
    queryFn: ({ signal }) =>
      answered<FirstLadder>(
        body(api.GET("/api/first-ladders/{playbook_id}", { params: { path: { playbook_id: symptom } }, signal })),
      ),
    ...untilThere,
  });

export const begunFromLog = (symptom: string, about: Schemas["BeginFromLog"]) =>
  body(api.POST("/api/first-ladders/{playbook_id}", { params: { path: { playbook_id: symptom } }, body: about }));
