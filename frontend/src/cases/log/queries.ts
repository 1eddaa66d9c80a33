/** The case log, part by part, and single cases. */
import { queryOptions } from "@tanstack/react-query";
import { api, body } from "../../api/client";
import { casesKey } from "../../api/keys";

export interface CaseFilter {
  symptom: string;
  step: string;
  end: string;
  words: string;
}

export const PAGE = 100;
/** Up to so many are counted one by one. */
export const COUNTED = 10_000;

export const isFiltered = (filter: CaseFilter): boolean => Object.values(filter).some(Boolean);

/** The cases that fit, from the one on that has so many of them above it. */
export const casesAtQuery = (filter: CaseFilter, rank: number) =>
  queryOptions({
    queryKey: [...casesKey, "at", filter, rank],
    queryFn: ({ signal }) =>
      body(api.GET("/api/cases", { params: { query: { ...filter, rank, limit: PAGE } }, signal })),
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

/** Open the case in which one that came back goes on. */
export const reopen = (caseId: string, id: string) =>
  body(api.POST("/api/cases/{case_id}/reopen", { params: { path: { case_id: caseId } }, body: { id } }));
