/** The case log, page by page, and single cases. */
import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";

export interface CaseFilter {
  symptom: string;
  step: string;
  end: string;
  words: string;
}

export const casesKey = ["cases"] as const;

export const casesQuery = (filter: CaseFilter) =>
  infiniteQueryOptions({
    queryKey: [...casesKey, filter],
    initialPageParam: "",
    queryFn: ({ pageParam, signal }) =>
      body(api.GET("/api/cases", { params: { query: { ...filter, after: pageParam, limit: 100 } }, signal })),
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: (before) => before,
  });

export const totalQuery = (filter: CaseFilter) =>
  queryOptions({
    queryKey: [...casesKey, "total", filter],
    queryFn: ({ signal }) => body(api.GET("/api/cases-total", { params: { query: { ...filter } }, signal })),
    placeholderData: (before) => before,
  });

export const leftOutQuery = queryOptions({
  queryKey: ["left-out"],
  queryFn: ({ signal }) => body(api.GET("/api/left-out", { signal })),
});

export const caseQuery = (caseId: string) =>
  queryOptions({
    queryKey: ["case", caseId],
    queryFn: ({ signal }) => body(api.GET("/api/cases/{case_id}", { params: { path: { case_id: caseId } }, signal })),
  });
