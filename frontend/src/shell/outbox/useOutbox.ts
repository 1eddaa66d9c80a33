/** The one outbox of this window: begun with the page, so that what waits is sent whatever page is shown. */
import type { QueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { api, body } from "../../api/client";
import { casesKey, climbKey, evidenceKey, meKey, openClimbsKey, symptomsKey } from "../../api/keys";
import { withLock } from "../../api/locks";
import { PERSON, shownPerson, watchPerson } from "../../api/person";
import type { ClimbView } from "../../api/types";
import { strictStorage } from "../../ui/stored";
import { newer } from "./newer";
import { type CaseQueue, Outbox, type Sent } from "./outbox";
import { isOurs, type Unsent } from "./storage";

let outbox: Outbox;
/** Longer than a second: with the page that asks as it opens, a list is then asked for no more than twice a second. */
const REST_MS = 1100;

const sendMove = (climbId: string, { person, ...move }: Sent): Promise<ClimbView> =>
  body(
    api.POST("/api/climbs/{climb_id}/moves", {
      params: { path: { climb_id: climbId } },
      headers: person === undefined ? {} : { [PERSON]: String(person) },
      body: move,
    }),
  );

const climbOf = (climbId: string) =>
  body(api.GET("/api/climbs/{climb_id}", { params: { path: { climb_id: climbId } } }));

/** Begin it: what waits from before is sent at once, what fails again and again, and when the line is back. */
export function beginOutbox(client: QueryClient): void {
  const show = (climbId: string, come: ClimbView) =>
    client.setQueryData<ClimbView>(climbKey(climbId), (shown) => newer(shown, come));
  const touch = seldom((queryKey) => void client.invalidateQueries({ queryKey }));
  outbox = new Outbox({
    storage: strictStorage,
    person: shownPerson,
    send: sendMove,
    newest: (climbId) => client.getQueryData<ClimbView>(climbKey(climbId))?.number,
    look: async (climbId) => show(climbId, await climbOf(climbId)),
    alone: (climbId, work) => withLock(`mild-ladder ${climbId}`, work),
    onSent: (climbId, view, isLast) => {
      show(climbId, view);
      if (!isLast) return;
      touch(view.place === "ended" ? [symptomsKey, casesKey, evidenceKey, openClimbsKey] : [openClimbsKey]);
    },
  });
  watchPerson(() => void client.refetchQueries({ queryKey: meKey }), outbox.sendNow);
  window.addEventListener("online", outbox.sendNow);
  window.addEventListener("storage", ({ key }) => isOurs(key) && outbox.lookAgain());
  outbox.sendNow();
}

/** At once the first time; what else comes within a moment, all together when that is over: several cases that get
 * through one after the other ask for a list twice in a row, not once each. */
function seldom(act: (key: readonly string[]) => void): (keys: readonly (readonly string[])[]) => void {
  let isResting = false;
  const later = new Set<readonly string[]>();
  const rest = () => {
    isResting = later.size > 0;
    for (const key of later) act(key);
    later.clear();
    if (isResting) setTimeout(rest, REST_MS);
  };
  return (keys) => {
    if (isResting) {
      for (const key of keys) later.add(key);
      return;
    }
    isResting = true;
    for (const key of keys) act(key);
    setTimeout(rest, REST_MS);
  };
}

export const theOutbox = (): Outbox => outbox;

/** How things stand with what this browser has to send of a case. */
export const useCaseQueue = (climbId: string): CaseQueue =>
  useSyncExternalStore(outbox.subscribe, () => outbox.of(climbId));

/** Everything of this browser that does not get through. */
export const useAllUnsent = (): readonly Unsent[] => useSyncExternalStore(outbox.subscribe, outbox.all);
