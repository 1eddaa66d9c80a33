/** What a draft comes to by what the cases have taught. While its other figures are those of the state before, so are
 * these; beside new figures there is nothing until these are new too: no interval stands beside another state's mean. */
import { useQuery } from "@tanstack/react-query";
import type { DraftView, LearnedFigures } from "../../api/types";
import { useRested } from "../../ui/useSettled";
import { useStaying } from "../../ui/useStaying";
import { learnedQuery } from "./queries";

/** From fewer cases nothing is told. */
const LEAST_CASES = 30;

export function useLearned(playbookId: string, view: DraftView, cases: number): LearnedFigures | undefined {
  const revision = useRested(view.revision);
  const { data } = useQuery({
    ...learnedQuery(playbookId, revision, cases),
    enabled: cases >= LEAST_CASES && !view.isBehind && revision > 0 && revision === view.revision,
  });
  const last = useStaying(data?.answer, playbookId);
  const found = view.isBehind ? last : data?.answer;
  return found && found.cases >= LEAST_CASES ? found : undefined;
}
