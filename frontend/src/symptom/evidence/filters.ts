/** Which cases the evidence is looked at by: what stands in the address, and what the server is asked. */
export interface Looked {
  since: string;
  until: string;
  edition: string;
  site: string;
  source: "" | "guided" | "brought-in";
  /** Facts of the units, each as `fact:value`. */
  unit: readonly string[];
}

export const EVERYTHING: Looked = { since: "", until: "", edition: "", site: "", source: "", unit: [] };

const SOURCES = ["guided", "brought-in"] as const;

/** What an address asks for; what cannot be read is everything. */
export function fromAddress(search: URLSearchParams): Looked {
  const source = SOURCES.find((one) => one === search.get("source")) ?? "";
  const month = (name: string) => (/^\d{4}-\d{2}$/.test(search.get(name) ?? "") ? (search.get(name) ?? "") : "");
  return {
    since: month("since"),
    until: month("until"),
    edition: /^\d{1,6}$/.test(search.get("edition") ?? "") ? (search.get("edition") ?? "") : "",
    site: search.get("site") ?? "",
    source,
    unit: search.getAll("unit").filter((one) => /^[a-z0-9-]{1,64}:.+$/.test(one)),
  };
}

/** The address with this filter in place of its own. */
export function toAddress(search: URLSearchParams, looked: Looked): URLSearchParams {
  const next = new URLSearchParams(search);
  for (const name of ["since", "until", "edition", "site", "source"] as const) {
    if (looked[name]) next.set(name, looked[name]);
    else next.delete(name);
  }
  next.delete("unit");
  for (const one of looked.unit) next.append("unit", one);
  return next;
}

/** What the server is asked: what does not matter is left out. */
export function asQuery(looked: Looked) {
  return {
    ...(looked.since && { since: looked.since }),
    ...(looked.until && { until: looked.until }),
    ...(looked.edition && { edition: Number(looked.edition) }),
    ...(looked.site && { site: looked.site }),
    ...(looked.source && { source: looked.source }),
    ...(looked.unit.length > 0 && { unit: [...looked.unit] }),
  };
}

export const isEverything = (looked: Looked) =>
  Object.values(looked).every((one) => (Array.isArray(one) ? one.length === 0 : one === ""));

export const filterValue = (looked: Looked, fact: string) =>
  looked.unit.find((one) => one.startsWith(`${fact}:`))?.slice(fact.length + 1) ?? "";

export const withFact = (looked: Looked, fact: string, value: string): Looked => ({
  ...looked,
  unit: [...looked.unit.filter((one) => !one.startsWith(`${fact}:`)), ...(value ? [`${fact}:${value}`] : [])],
});
