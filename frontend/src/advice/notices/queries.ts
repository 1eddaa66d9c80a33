/** What is known now, and who called about it. */
import { queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "../../api/client";
import { noticesKey } from "../../api/keys";
import { useSending } from "../../ui/useSending";

export type Notice = Schemas["Notice"];
export type NewNotice = Schemas["NewNotice"];
export type NewCall = Schemas["NewCall"];

export const noticesQuery = queryOptions({
  queryKey: noticesKey,
  queryFn: async ({ signal }) => (await body(api.GET("/api/notices", { signal }))).notices,
  refetchInterval: 60_000,
});

type Answer = Promise<Schemas["NoticeList"]>;

/** A change to notices; what comes back is what is known now. */
function useChange<T>(send: (what: T) => Answer) {
  const client = useQueryClient();
  return useSending({ mutationFn: send, onSuccess: ({ notices }) => client.setQueryData(noticesKey, notices) });
}

export const usePutUp = () => useChange((notice: NewNotice) => body(api.POST("/api/notices", { body: notice })));

export const useEnd = () =>
  useChange((number: number) => body(api.POST("/api/notices/{number}/end", { params: { path: { number } } })));

export const useLogCall = () =>
  useChange(({ number, call }: { number: number; call: NewCall }) =>
    body(api.POST("/api/notices/{number}/calls", { params: { path: { number } }, body: call })),
  );

export const useCalledBack = () =>
  useChange(({ number, call_id }: { number: number; call_id: string }) =>
    body(api.POST("/api/notices/{number}/calls/{call_id}/called-back", { params: { path: { number, call_id } } })),
  );
