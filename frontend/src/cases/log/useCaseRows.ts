/** The rows of the log, as many as there are, of which those that are seen are asked for once. */
import { useQueries, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import type { CaseList, CaseSummary } from "../../api/types";
import { type CaseFilter, casesAtQuery, PAGE, totalQuery } from "./queries";

export interface CaseRows {
  /** How many there are; undefined while nothing is known. */
  count: number | undefined;
  /** Undefined while it is on its way. */
  at: (index: number) => CaseSummary | undefined;
  ends: CaseList["ends"];
  /** Why what is seen could not be loaded. */
  error: Error | null;
  retry: () => void;
  /** Which rows are seen. */
  see: (first: number, last: number) => void;
}

/** Page by page by rank: one may go anywhere in it at once, and what is not seen any more is never asked for again. */
export function useCaseRows(filter: CaseFilter): CaseRows {
  const [pages, setPages] = useState({ first: 0, last: 0 });
  const total = useQuery(totalQuery(filter));
  const ranks = Array.from({ length: pages.last - pages.first + 1 }, (_, n) => (pages.first + n) * PAGE);
  const parts = useQueries({ queries: ranks.map((rank) => casesAtQuery(filter, rank)) });
  const byRank = new Map(ranks.map((rank, n) => [rank, parts[n]?.data?.cases]));
  const failed = [total, ...parts].filter(({ isError, isFetching }) => isError && !isFetching);
  const rows = {
    count: total.data?.total,
    at: (index: number) => byRank.get(index - (index % PAGE))?.[index % PAGE],
    ends: parts.find(({ data }) => data)?.data?.ends ?? [],
  };
  // While another filter's first rows are on their way, those of the one before stay.
  const before = useRef(rows);
  if (!total.isPlaceholderData && parts.some(({ data }) => data)) before.current = rows;
  return {
    ...(total.isPlaceholderData ? before.current : rows),
    error: failed[0]?.error ?? null,
    retry: () => {
      for (const one of failed) one.refetch();
    },
    see: (first, last) => {
      const next = { first: Math.floor(first / PAGE), last: Math.floor(last / PAGE) };
      if (next.first !== pages.first || next.last !== pages.last) setPages(next);
    },
  };
}
