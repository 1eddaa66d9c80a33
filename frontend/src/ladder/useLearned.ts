/** What a draft comes to by what the cases have taught; while a change of it is worked out, what was told before. */
import { useQuery } from "@tanstack/react-query";
import type { DraftView, LearnedFigures } from "../api/types";
import { useRested } from "../ui/useSettled";
import { useStaying } from "../ui/useStaying";
import { learnedQuery } from "./queries";

/** From fewer cases nothing is told. */
const LEAST_CASES = 30;

export function useLearned(playbookId: string, view: DraftView, cases: number): LearnedFigures | undefined {
  const revision = useRested(view.revision);
  const { data } = useQuery({
    ...learnedQuery(playbookId, revision, cases),
    enabled: cases >= LEAST_CASES && !view.isBehind && revision > 0 && revision === view.revision,
  });
  const found = useStaying(data?.answer, playbookId);
  return found && found.cases >= LEAST_CASES ? found : undefined;
}
