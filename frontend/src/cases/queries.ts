/** The case log, page by page, and single cases. */
import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, body } from "../api/client";

const ENDS = ["resolved", "worked-around", "handed-off", "abandoned", "self-cleared"] as const;
export type End = (typeof ENDS)[number];
export const END_WORDS: Record<End, string> = {
  resolved: "Resolved",
  "worked-around": "Worked around",
  "handed-off": "Handed off",
  abandoned: "Abandoned",
  "self-cleared": "Cleared by itself",
};
export const isEnd = (word: string): word is End => ENDS.some((end) => end === word);
export const endInWords = (end: string) => (isEnd(end) ? END_WORDS[end] : end);

export interface CaseFilter {
  symptom: string;
  step: string;
  end: End | "";
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

export const leftOutQuery = queryOptions({
  queryKey: ["left-out"],
  queryFn: ({ signal }) => body(api.GET("/api/left-out", { signal })),
});

export const caseQuery = (caseId: string) =>
  queryOptions({
    queryKey: ["case", caseId],
    queryFn: ({ signal }) => body(api.GET("/api/cases/{case_id}", { params: { path: { case_id: caseId } }, signal })),
  });
