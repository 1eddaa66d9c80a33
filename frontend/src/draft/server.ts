/** What a draft asks the server: read, hear, send, each in one place. */
import { api, body } from "../api/client";
import { PERSON } from "../api/person";
import type { DraftForm, Heard, SendEdit, Server, Since } from "./state";

/** A page that is going away may still send so much. */
const LAST_BYTES = 60_000;

export function serverOf(playbookId: string, person: number | undefined): Server {
  const path = { playbook_id: playbookId };
  let tag: string | undefined;
  return {
    read: (clients): Promise<DraftForm> =>
      body(api.GET("/api/playbooks/{playbook_id}/draft", { params: { path, query: { clients: clients.join(",") } } })),
    since: async (base, client): Promise<Heard | undefined> => {
      const answer = await api.GET("/api/playbooks/{playbook_id}/draft/edits", {
        params: { path, query: { base, client } },
        headers: tag ? { "If-None-Match": tag } : {},
      });
      if (answer.response.status === 304) return undefined;
      const since = await body(Promise.resolve(answer));
      const come = answer.response.headers.get("ETag") ?? undefined;
      return {
        since,
        taken: () => {
          tag = come;
        },
      };
    },
    send: (edit: SendEdit): Promise<Since> =>
      body(
        api.POST("/api/playbooks/{playbook_id}/draft/edits", {
          params: { path },
          headers: person === undefined ? {} : { [PERSON]: String(person) },
          body: edit,
          keepalive: JSON.stringify(edit).length < LAST_BYTES,
        }),
      ),
  };
}
