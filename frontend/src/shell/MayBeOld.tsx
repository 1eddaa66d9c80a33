import { type QueryCache, useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { ApiError } from "../api/client";
import { AlertStrip } from "../ui/AlertStrip";

/** What is shown stays when the server fails to say it anew; this line says that it may be old. */
export const MayBeOld = () => {
  const client = useQueryClient();
  const cache = client.getQueryCache();
  const isOld = useSyncExternalStore(
    (listener) => cache.subscribe(listener),
    () => failing(cache).length > 0,
  );
  if (!isOld) return null;
  const again = () => {
    for (const query of failing(cache)) void query.fetch();
  };
  return (
    <AlertStrip
      actions={
        <button type="button" className="button" onClick={again}>
          Try again
        </button>
      }
    >
      What you see may be out of date: the server did not answer just now.
    </AlertStrip>
  );
};

/** Queries whose answer is shown, and that failed when they were asked again. */
const failing = (cache: QueryCache) =>
  cache
    .findAll({ type: "active", predicate: ({ state }) => state.data !== undefined && state.status === "error" })
    .filter(({ state: { error } }) => error instanceof ApiError && (error.status === 0 || error.status >= 500));
