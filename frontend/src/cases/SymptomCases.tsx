import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { symptomsQuery } from "../shell/queries";
import { SymptomHead } from "../symptom/SymptomHead";
import { CaseLog } from "./CaseLog";
import { useCaseFilter } from "./useCaseFilter";

/** The logged cases of one symptom. */
export const SymptomCases = () => {
  const { playbookId = "" } = useParams();
  const { filter, change } = useCaseFilter(playbookId);
  const { data: symptoms } = useQuery(symptomsQuery);
  const symptom = symptoms?.find(({ id }) => id === playbookId);
  return (
    <>
      <SymptomHead
        playbookId={playbookId}
        title={symptom?.title ?? playbookId}
        says={symptom ? `“${symptom.says}”` : ""}
      />
      <CaseLog filter={filter} onChange={change} isOfAll={false} />
    </>
  );
};
