/** How many cases a month brings, in words, and over how long that was seen. */
import type { Schemas } from "../../api/client";
import { count, plural, tenths } from "../../ui/format";

export const paceInWords = ({ a_month, days }: Schemas["Pace"]): string =>
  `${a_month < 10 ? tenths(a_month) : count(Math.round(a_month))} cases, as the last ${plural(days, "day")} did`;
