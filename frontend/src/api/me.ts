/** Who sits at this browser, and who else is at the desk. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { meKey } from "./keys";
import { showPerson } from "./person";

/** After how long it is asked again who sits here, where that could not be told. */
const AGAIN_MS = 5_000;

export const meQuery = queryOptions({
  queryKey: meKey,
  queryFn: async ({ signal }) => {
    const me = await body(api.GET("/api/me", { signal }));
    showPerson(me.person?.id);
    return me;
  },
  refetchInterval: ({ state }) => (state.status === "error" ? AGAIN_MS : false),
});
