import { CaseLog } from "./CaseLog";
import { useCaseFilter } from "./useCaseFilter";

/** Every logged case of the desk. */
export const CasesPage = () => {
  const { filter, change } = useCaseFilter();
  return (
    <>
      <h1 className="shrink-0 px-6 pt-4 font-bold text-title">Cases</h1>
      <CaseLog filter={filter} onChange={change} isOfAll />
    </>
  );
};
