/** Pictures that texts show. */
import { api, body } from "./client";

/** Have the desk keep a picture; it answers with the path by which texts name it. */
export const sendPicture = (playbookId: string, file: File) =>
  body(
    api.POST("/api/playbooks/{playbook_id}/draft/pictures", {
      params: { path: { playbook_id: playbookId } },
      body: file as never,
      bodySerializer: (value: unknown) => value as never,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    }),
  );
