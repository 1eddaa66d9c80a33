/** What a draft comes to by what the cases have taught; while a change of it is worked out, what was told before. */
import { useQuery } from "@tanstack/react-query";
import type { DraftView, LearnedFigures } from "../api/types";
import { useStaying } from "../ui/useStaying";
import { learnedQuery } from "./queries";

/** From fewer cases nothing is told. */
const LEAST_CASES = 30;

export function useLearned(playbookId: string, view: DraftView, cases: number): LearnedFigures | undefined {
  const { data } = useQuery({
    ...learnedQuery(playbookId, view.revision, cases),
    enabled: cases >= LEAST_CASES && !view.isBehind && view.revision > 0,
  });
  const found = useStaying(data?.answer, playbookId);
  return found && found.cases >= LEAST_CASES ? found : undefined;
}
