import { hashKey, type UseMutationOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";

/**
 * What a press sends, sent once: a key that is held, or a second press before the page has shown the first as under way,
 * sends nothing more. Another thing to send (the next notice of a list) does not wait for the first.
 */
export function useSending<Answer = unknown, Sent = void, Context = unknown>(
  options: UseMutationOptions<Answer, Error, Sent, Context>,
) {
  const client = useQueryClient();
  const [id] = useState(() => crypto.randomUUID());
  const sending = useMutation({ ...options, mutationKey: ["sending", id] });
  const send = sending.mutate;
  const mutate: typeof send = useCallback(
    (...given) => {
      const predicate = (one: { state: { variables: unknown } }) => isSame(one.state.variables, given[0]);
      if (client.isMutating({ mutationKey: ["sending", id], predicate }) === 0) send(...given);
    },
    [client, id, send],
  );
  return { ...sending, mutate };
}

function isSame(one: unknown, other: unknown): boolean {
  // A file says nothing of what is in it.
  return one === other || (!(one instanceof File) && hashKey([one]) === hashKey([other]));
}
