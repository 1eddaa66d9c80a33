/** Which open cases a caller may mean: of the same unit, number in the other system, or caller. */
import type { Schemas } from "../../api/client";

type Summary = Schemas["ClimbSummary"];

export interface AskedAbout {
  unit: string;
  ticket: string;
  caller: string;
}

const MOST = 3;

export function alreadyOpen(climbs: readonly Summary[], asked: AskedAbout): Summary[] {
  const same = (one: string, other: string) =>
    other.trim().length > 1 && one.trim().toLowerCase() === other.trim().toLowerCase();
  return climbs
    .filter((one) => same(one.unit, asked.unit) || same(one.ticket, asked.ticket) || same(one.caller, asked.caller))
    .slice(0, MOST);
}
