/** By what a ladder's figures are: by what its cases have taught where there are enough, or by the lead's guesses. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { browserStorage } from "../../ui/stored";
import { EVERYTHING } from "../evidence/filters";
import { estimateQuery, evidenceQuery } from "../evidence/queries";

export type By = "cases" | "judged";
export interface Basis {
  by: By;
  /** Of which estimate; none yet, or none wanted: undefined. */
  taughtAt: string | undefined;
}

export const AS_JUDGED: Basis = { by: "judged", taughtAt: undefined };
const KEY = "mild-ladder-figures";

/** What is chosen is kept in this browser. */
export function useBasis(playbookId: string) {
  const { data: evidence } = useQuery(evidenceQuery(playbookId));
  const { data: estimated } = useQuery(estimateQuery(playbookId, EVERYTHING, evidence?.cases));
  const estimate = estimated?.answer;
  const canBeTaught = estimate?.lesson != null;
  const [wanted, setWanted] = useState<By>(() => (browserStorage.getItem(KEY) === "judged" ? "judged" : "cases"));
  const choose = (by: By) => {
    browserStorage.setItem(KEY, by);
    setWanted(by);
  };
  const basis: Basis = canBeTaught && wanted === "cases" ? { by: "cases", taughtAt: estimate.as_of } : AS_JUDGED;
  return { evidence, estimate, canBeTaught, basis, choose };
}
