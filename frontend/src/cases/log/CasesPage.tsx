import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { Link } from "react-router";
import { casesKey } from "../../api/keys";
import { plural } from "../../ui/format";
import { Heading } from "../../ui/Heading";
import { BeingBroughtIn } from "../intake/BeingBroughtIn";
import { CaseLog } from "./CaseLog";
import { leftOutQuery } from "./queries";
import { useCaseFilter } from "./useCaseFilter";

/** Every logged case of the desk. */
export const CasesPage = () => {
  const { filter, change } = useCaseFilter();
  const { data: leftOut } = useQuery(leftOutQuery);
  const client = useQueryClient();
  const readAnew = useCallback(() => {
    client.invalidateQueries({ queryKey: casesKey });
    client.invalidateQueries({ queryKey: leftOutQuery.queryKey });
  }, [client]);
  return (
    <>
      <header className="flex shrink-0 items-baseline gap-4 px-6 pt-4">
        <Heading>Cases</Heading>
        {!!leftOut?.total && (
          <Link to="/left-out" className="link">
            {plural(leftOut.total, "line")} of brought-in files could not be read
          </Link>
        )}
      </header>
      <BeingBroughtIn onEnded={readAnew} />
      <CaseLog filter={filter} onChange={change} isOfAll />
    </>
  );
};
