import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { plural } from "../ui/format";
import { CaseLog } from "./CaseLog";
import { leftOutQuery } from "./queries";
import { useCaseFilter } from "./useCaseFilter";

/** Every logged case of the desk. */
export const CasesPage = () => {
  const { filter, change } = useCaseFilter();
  const { data: leftOut } = useQuery(leftOutQuery);
  return (
    <>
      <header className="flex shrink-0 items-baseline gap-4 px-6 pt-4">
        <h1 className="font-bold text-title">Cases</h1>
        {!!leftOut?.total && (
          <Link to="/left-out" className="link">
            {plural(leftOut.total, "line")} of brought-in files could not be read
          </Link>
        )}
      </header>
      <CaseLog filter={filter} onChange={change} isOfAll />
    </>
  );
};
