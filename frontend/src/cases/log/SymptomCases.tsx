import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { symptomsQuery } from "../../api/lists";
import { InHead } from "../../symptom/SymptomLayout";
import { useTitle } from "../../ui/Heading";
import { CaseLog } from "./CaseLog";
import { useCaseFilter } from "./useCaseFilter";

/** The logged cases of one symptom. */
export const SymptomCases = () => {
  const { playbookId = "" } = useParams();
  const { filter, change } = useCaseFilter(playbookId);
  const { data: symptoms } = useQuery(symptomsQuery);
  const symptom = symptoms?.find(({ id }) => id === playbookId);
  useTitle("Cases", symptom?.title);
  return (
    <>
      <InHead says={symptom ? `“${symptom.says}”` : ""} />
      <CaseLog filter={filter} onChange={change} isOfAll={false} />
    </>
  );
};
