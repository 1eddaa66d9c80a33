/** Which cases are shown stands in the address, so that a link or going back restores it. */
import { useSearchParams } from "react-router";
import type { CaseFilter } from "./queries";

export function useCaseFilter(symptom?: string) {
  const [params, setParams] = useSearchParams();
  const filter: CaseFilter = {
    symptom: symptom ?? params.get("symptom") ?? "",
    step: params.get("step") ?? "",
    end: params.get("end") ?? "",
    words: params.get("words") ?? "",
  };
  const change = (name: keyof CaseFilter, value: string) =>
    setParams(
      (now) => {
        if (value) now.set(name, value);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  return { filter, change };
}
