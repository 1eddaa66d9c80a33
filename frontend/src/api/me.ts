/** Who sits at this browser, and who else is at the desk. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "./client";
import { meKey } from "./keys";

export const meQuery = queryOptions({
  queryKey: meKey,
  queryFn: ({ signal }) => body(api.GET("/api/me", { signal })),
});
