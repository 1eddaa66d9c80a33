/** What the log says of the facts of a symptom. */
import { api, body } from "./client";

export const factCounts = (playbookId: string) =>
  body(api.GET("/api/playbooks/{playbook_id}/fact-counts", { params: { path: { playbook_id: playbookId } } }));
