/** The guided case on the server: opened once, then asked how it stands; its moves go through the outbox. */
import { queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { climbKey } from "../../api/keys";
import type { ClimbView } from "../../api/types";
import { newer } from "../../shell/outbox/newer";

export const climbQuery = (climbId: string) =>
  queryOptions({
    queryKey: climbKey(climbId),
    queryFn: ({ signal }) =>
      body(api.GET("/api/climbs/{climb_id}", { params: { path: { climb_id: climbId } }, signal })),
    structuralSharing: (shown, come) => newer(shown as ClimbView | undefined, come as ClimbView),
  });

export const openClimb = (start: Schemas["StartClimb"]): Promise<ClimbView> =>
  body(api.POST("/api/climbs", { body: start }));

/** Open the case in which one that was sent on goes on. */
export const goOn = (climbId: string, id: string): Promise<ClimbView> =>
  body(api.POST("/api/climbs/{climb_id}/go-on", { params: { path: { climb_id: climbId } }, body: { id } }));

/** What was ticked on a sheet, entered in one go. */
export const enterSheet = (climbId: string, ticks: Schemas["SheetTicks"]): Promise<ClimbView> =>
  body(api.POST("/api/climbs/{climb_id}/sheet", { params: { path: { climb_id: climbId } }, body: ticks }));

/** What is left of the ladder, on one sheet. */
export const sheetQuery = (climbId: string) =>
  queryOptions({
    queryKey: [...climbKey(climbId), "sheet"],
    // Each answer takes rungs off it: it is read anew whenever it is looked at.
    staleTime: 0,
    queryFn: ({ signal }) =>
      body(api.GET("/api/climbs/{climb_id}/sheet", { params: { path: { climb_id: climbId } }, signal })),
  });
