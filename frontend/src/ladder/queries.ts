/** The draft on the server, and every way of changing it. Each change names the revision that it was made upon. */
import { queryOptions } from "@tanstack/react-query";
import { api, body, ifMatch } from "../api/client";
import type { DraftView, EditionView, Mend, Playbook } from "../api/types";

export const draftKey = (playbookId: string) => ["draft", playbookId] as const;

export const draftQuery = (playbookId: string) =>
  queryOptions({
    queryKey: draftKey(playbookId),
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/draft", { params: { path: { playbook_id: playbookId } }, signal })),
  });

const at = (draft: DraftView) => ({ path: { playbook_id: draft.playbook.id }, header: ifMatch(draft.revision) });

export const sendMove = (draft: DraftView, source: number, target: number, both: boolean): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/move", { params: at(draft), body: { source, target, both } }));

export const sendUndo = (draft: DraftView, evenOthers: boolean): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/undo", { params: at(draft), body: { even_others: evenOthers } }));

export const sendRedo = (draft: DraftView, evenOthers: boolean): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/redo", { params: at(draft), body: { even_others: evenOthers } }));

export const sendDocument = (draft: DraftView, playbook: Playbook, label: string): Promise<DraftView> =>
  body(api.PUT("/api/playbooks/{playbook_id}/draft", { params: at(draft), body: { playbook, label } }));

export const sendTakeNewer = (draft: DraftView, step: string): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/newer-text", { params: at(draft), body: { step } }));

export const sendPublish = (draft: DraftView, note: string): Promise<EditionView> =>
  body(api.POST("/api/playbooks/{playbook_id}/editions", { params: at(draft), body: { note } }));

export const sendReorder = (draft: DraftView, order: number[], label: string): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/reorder", { params: at(draft), body: { order, label } }));

export const sendMend = (draft: DraftView, { code, finding }: Mend): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/mend", { params: at(draft), body: { code, finding } }));

export const sendRestore = (draft: DraftView, edition: number): Promise<DraftView> =>
  body(api.POST("/api/playbooks/{playbook_id}/draft/restore", { params: at(draft), body: { edition } }));
