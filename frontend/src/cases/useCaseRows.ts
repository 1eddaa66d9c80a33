/** The rows of the log, as many as there are, of which those that are seen are asked for once. */
import { useInfiniteQuery, useQueries, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { CaseList, CaseSummary } from "../api/types";
import { type CaseFilter, casesAtQuery, casesQuery, isFiltered, PAGE, totalQuery } from "./queries";

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

export function useCaseRows(filter: CaseFilter): CaseRows {
  const whole = useWhole(!isFiltered(filter));
  const fitting = useFitting(filter, isFiltered(filter));
  return isFiltered(filter) ? fitting : whole;
}

const NO_FILTER: CaseFilter = { symptom: "", step: "", end: "", words: "" };

/** The whole log, page by page by rank: one may go anywhere in it at once. */
function useWhole(isWanted: boolean): CaseRows {
  const [pages, setPages] = useState({ first: 0, last: 0 });
  const total = useQuery({ ...totalQuery(NO_FILTER), enabled: isWanted });
  const ranks = Array.from({ length: pages.last - pages.first + 1 }, (_, n) => (pages.first + n) * PAGE);
  const parts = useQueries({ queries: ranks.map((rank) => ({ ...casesAtQuery(rank), enabled: isWanted })) });
  const byRank = new Map(ranks.map((rank, n) => [rank, parts[n]?.data?.cases]));
  const failed = [total, ...parts].filter(({ isError, isFetching }) => isError && !isFetching);
  return {
    count: total.data?.total,
    at: (index) => byRank.get(index - (index % PAGE))?.[index % PAGE],
    ends: parts.find(({ data }) => data)?.data?.ends ?? [],
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

/** Those that fit, each page after the one before; further down more is asked for, page by page. */
function useFitting(filter: CaseFilter, isWanted: boolean): CaseRows {
  const query = useInfiniteQuery({ ...casesQuery(filter), enabled: isWanted });
  const total = useQuery({ ...totalQuery(filter), enabled: isWanted });
  const cases = query.data?.pages.flatMap((page) => page.cases) ?? [];
  const known = query.hasNextPage ? Math.max(cases.length + 1, total.data?.total ?? 0) : cases.length;
  return {
    count: query.data && !query.isPlaceholderData ? known : query.data ? cases.length : undefined,
    at: (index) => cases[index],
    ends: query.data?.pages[0]?.ends ?? [],
    error: query.isFetching ? null : query.error,
    retry: () => (query.isFetchNextPageError ? query.fetchNextPage() : query.refetch()),
    see: (_, last) => {
      if (last >= cases.length - 1 && query.hasNextPage && !query.isFetching && !query.isError) query.fetchNextPage();
    },
  };
}
