/** Answers that the server may take a while to work out: how they are asked for again, until they are there. */
/** Most answers are there at once; after that the server is asked less often. */
const AT_ONCE = 3;
const AGAIN_AFTER = { first: 60, then: 250 };

type Working = { working: true; says?: string | null };

/** answer: undefined while it is being worked out; says: why that takes longer than usual. */
export interface Answered<T> {
  answer: T | undefined;
  says?: string | undefined;
}

/** What is there of an answer. */
export async function answered<T extends object>(
  asked: Promise<T | Working | { working?: true }>,
): Promise<Answered<T>> {
  const told = await asked;
  if (!("working" in told)) return { answer: told as T };
  return { answer: undefined, says: (told as Working).says ?? undefined };
}

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
