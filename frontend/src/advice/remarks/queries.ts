/** What agents say of texts that are wrong, until the lead has seen to it. */
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { remarksKey } from "../../api/keys";
import { useSending } from "../../ui/useSending";

export type Remark = Schemas["Remark"];

export const remarksQuery = queryOptions({
  queryKey: remarksKey,
  queryFn: ({ signal }) => body(api.GET("/api/remarks", { signal })),
});

export function useRemark() {
  const client = useQueryClient();
  return useSending({
    mutationFn: (remark: Schemas["NewRemark"]) => body(api.POST("/api/remarks", { body: remark })),
    onSuccess: () => client.invalidateQueries({ queryKey: remarksKey }),
  });
}

export function useSettle() {
  const client = useQueryClient();
  return useSending({
    mutationFn: (number: number) => body(api.POST("/api/remarks/{number}/settled", { params: { path: { number } } })),
    onSuccess: (remarks) => client.setQueryData(remarksKey, remarks),
  });
}
