/** What the top line needs: who sits here, and what may be found. */
import { type QueryClient, queryOptions, useQueryClient } from "@tanstack/react-query";
import { api, body, type Schemas } from "../api/client";
import { casesKey, meKey } from "../api/keys";
import { showPerson, tellOtherWindows } from "../api/person";
import { useSending } from "../ui/useSending";

type Me = Schemas["Me"];

/** Somebody else sits here from now on, in every window. */
function sitDown(client: QueryClient, me: Me): void {
  showPerson(me.person?.id);
  client.setQueryData(meKey, me);
  tellOtherWindows();
}

/** Choose who sits at this browser. */
export function useChoosePerson() {
  const client = useQueryClient();
  return useSending({
    mutationFn: (person: number) => body(api.PUT("/api/me", { body: { person } })),
    onSuccess: (me) => sitDown(client, me),
  });
}

/** Take somebody on, who then sits at this browser. */
export function useJoin() {
  const client = useQueryClient();
  return useSending({
    mutationFn: async (who: { name: string; role: "lead" | "agent" | "technician" }) => {
      const person = await body(api.POST("/api/people", { body: who }));
      return body(api.PUT("/api/me", { body: { person: person.id } }));
    },
    onSuccess: (me) => sitDown(client, me),
  });
}

/** The newest cases that hold the words. */
export const foundCasesQuery = (words: string) =>
  queryOptions({
    queryKey: [...casesKey, "found", words],
    queryFn: ({ signal }) => body(api.GET("/api/cases", { params: { query: { words, limit: 30 } }, signal })),
  });
