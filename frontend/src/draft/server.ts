/** What a draft asks the server: read, hear, send, each in one place. */
import { api, body } from "../api/client";
import type { DraftForm, SendEdit, Server, Since } from "./standing";

/** A page that is going away may still send so much. */
const LAST_BYTES = 60_000;

export function serverOf(playbookId: string): Server {
  const path = { playbook_id: playbookId };
  let tag: string | undefined;
  return {
    read: (clients): Promise<DraftForm> =>
      body(api.GET("/api/playbooks/{playbook_id}/draft", { params: { path, query: { clients: clients.join(",") } } })),
    since: async (base, client): Promise<Since | undefined> => {
      const answer = await api.GET("/api/playbooks/{playbook_id}/draft/edits", {
        params: { path, query: { base, client } },
        headers: tag ? { "If-None-Match": tag } : {},
      });
      if (answer.response.status === 304) return undefined;
      tag = answer.response.headers.get("ETag") ?? undefined;
      return body(Promise.resolve(answer));
    },
    send: (edit: SendEdit): Promise<Since> =>
      body(
        api.POST("/api/playbooks/{playbook_id}/draft/edits", {
          params: { path },
          body: edit,
          keepalive: JSON.stringify(edit).length < LAST_BYTES,
        }),
      ),
  };
}
