/** Answers that the server may take a while to work out: how they are asked for again, until they are there. */
/** Most answers are there at once; after that the server is asked less often. */
const AT_ONCE = 3;
const AGAIN_AFTER = { first: 60, then: 250 };

type Working = { working?: true };

/** What is there of an answer; undefined while it is being worked out. */
export const whole = <T extends object>(answer: T | Working): T | undefined =>
  "working" in answer ? undefined : (answer as T);

interface Asked {
  data?: { answer?: unknown } | undefined;
  error: Error | null;
  dataUpdateCount: number;
}

export const untilThere = {
  staleTime: Number.POSITIVE_INFINITY,
  retry: false,
  refetchInterval: ({ state }: { state: Asked }) =>
    state.error || state.data?.answer
      ? (false as const)
      : state.dataUpdateCount < AT_ONCE
        ? AGAIN_AFTER.first
        : AGAIN_AFTER.then,
};
