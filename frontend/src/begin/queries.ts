/** Beginning a playbook: from a title, or from a file. */
import { api, body, type Schemas } from "../api/client";

export type Preview = Schemas["ImportPreview"];
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
