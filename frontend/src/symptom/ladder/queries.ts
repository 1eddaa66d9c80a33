/** Figures and review of one revision of a draft, and freezing it as an edition. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, body, ifMatch } from "../../api/client";
import { draftKey } from "../../api/keys";
import type { EditionView, LearnedFigures } from "../../api/types";
import { answered, untilThere } from "../../api/working";
import { AS_JUDGED, type Basis } from "./useBasis";

const at = (playbookId: string, revision: number) => ({ path: { playbook_id: playbookId }, query: { revision } });

/** Of a revision that has passed meanwhile there are no figures any more; those of the newer one are on their way. */
const ofRevision = { staleTime: Number.POSITIVE_INFINITY, placeholderData: keepPreviousData, retry: false };

/** unit: facts of the sort of unit by which the ladder is looked at, each as `fact:value`; basis: by what the figures are. */
export const figuresQuery = (
  playbookId: string,
  revision: number,
  unit: readonly string[] = [],
  { by, taughtAt }: Basis = AS_JUDGED,
) =>
  queryOptions({
    queryKey: [...draftKey(playbookId), "figures", revision, by, taughtAt, ...unit],
    queryFn: ({ signal }) =>
      body(
        api.GET("/api/playbooks/{playbook_id}/draft/figures", {
          params: { path: { playbook_id: playbookId }, query: { revision, by, unit: [...unit] } },
          signal,
        }),
      ),
    enabled: revision > 0,
    ...ofRevision,
  });

export const reviewQuery = (playbookId: string, revision: number) =>
  queryOptions({
    queryKey: [...draftKey(playbookId), "review", revision],
    queryFn: ({ signal }) =>
      body(api.GET("/api/playbooks/{playbook_id}/draft/review", { params: at(playbookId, revision), signal })),
    enabled: revision > 0,
    ...ofRevision,
  });

/** By what the cases have taught: asked again until it is worked out, for one revision. cases: that there are. */
export const learnedQuery = (playbookId: string, revision: number, cases: number) =>
  queryOptions({
    queryKey: ["learned", playbookId, revision, cases],
    queryFn: ({ signal }) =>
      answered<LearnedFigures>(
        body(api.GET("/api/playbooks/{playbook_id}/draft/learned", { params: at(playbookId, revision), signal })),
      ),
    enabled: revision > 0 && cases > 0,
    ...untilThere,
  });

export const sendPublish = (playbookId: string, revision: number, note: string): Promise<EditionView> =>
  body(
    api.POST("/api/playbooks/{playbook_id}/editions", {
      params: { path: { playbook_id: playbookId }, header: ifMatch(revision) },
      body: { note },
    }),
  );
