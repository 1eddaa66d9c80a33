/** The guided case on the server: opened once, then one move after the other. */
import { queryOptions } from "@tanstack/react-query";
import { api, body, type Schemas } from "../api/client";
import type { ClimbView, Move } from "../api/types";
import { newer } from "./newer";

export const climbKey = (climbId: string) => ["climb", climbId] as const;

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

/** A move on its way: `key` makes sending it twice harmless, `after` is the event that it follows. */
export interface Sent {
  key: string;
  after: number;
  move: Move;
}

export const sendClimbMove = (climbId: string, sent: Sent): Promise<ClimbView> =>
  body(api.POST("/api/climbs/{climb_id}/moves", { params: { path: { climb_id: climbId } }, body: sent }));
