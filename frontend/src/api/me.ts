/** Who sits at this browser, and who else is at the desk. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { meKey } from "./keys";
import { showPerson } from "./person";

export const meQuery = queryOptions({
  queryKey: meKey,
  queryFn: async ({ signal }) => {
    const me = await body(api.GET("/api/me", { signal }));
    showPerson(me.person?.id);
    return me;
  },
});
