/** Answers that may take the server a while: asked again until they are there, for one revision of a draft. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../../api/client";
import type { CurveView, DraftView, Mend, Suggestion, WhyHere } from "../../api/types";
import { answered, untilThere } from "../../api/working";

/** By the same as the figures that are shown. */
const by = (draft: DraftView) => ({ by: draft.taught_by == null ? ("judged" as const) : ("cases" as const) });
const at = (draft: DraftView) => ({ path: { playbook_id: draft.playbook.id } });
const keyOf = (draft: DraftView, ...what: (string | number)[]) => [
  "orders",
  draft.playbook.id,
  draft.revision,
  draft.taught_by,
  ...what,
];

export const curveQuery = (draft: DraftView) =>
  queryOptions({
    queryKey: keyOf(draft, "curve"),
    queryFn: ({ signal }) =>
      answered<CurveView>(
        body(
          api.GET("/api/playbooks/{playbook_id}/draft/curve", {
            params: { ...at(draft), query: by(draft) },
            signal,
          }),
        ),
      ),
    ...untilThere,
  });

export const suggestionsQuery = (draft: DraftView) =>
  queryOptions({
    queryKey: keyOf(draft, "suggestions"),
    queryFn: ({ signal }) =>
      answered<{ suggestions: Suggestion[] }>(
        body(
          api.GET("/api/playbooks/{playbook_id}/draft/suggestions", {
            params: { ...at(draft), query: by(draft) },
            signal,
          }),
        ),
      ),
    ...untilThere,
  });

export const mendsQuery = (draft: DraftView) =>
  queryOptions({
    queryKey: keyOf(draft, "mends"),
    queryFn: ({ signal }) =>
      answered<{ mends: Mend[] }>(
        body(api.GET("/api/playbooks/{playbook_id}/draft/mends", { params: at(draft), signal })),
      ),
    ...untilThere,
  });

export const whyQuery = (draft: DraftView, rung: number) =>
  queryOptions({
    queryKey: keyOf(draft, "why", rung),
    queryFn: ({ signal }) =>
      answered<WhyHere>(
        body(
          api.GET("/api/playbooks/{playbook_id}/draft/rungs/{rung}/why", {
            params: { path: { playbook_id: draft.playbook.id, rung }, query: by(draft) },
            signal,
          }),
        ),
      ),
    ...untilThere,
  });
