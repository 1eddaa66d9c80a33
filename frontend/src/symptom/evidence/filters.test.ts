import { describe, expect, it } from "vitest";
import { asQuery, EVERYTHING, filterValue, fromAddress, isEverything, toAddress, withFact } from "./filters";

describe("filters of the evidence", () => {
  it("come back from the address as they went in, and leave the rest of it alone", () => {
    const looked = withFact({ ...EVERYTHING, since: "2026-01", edition: "2", source: "guided" }, "model", "GR4: new");
    const address = toAddress(new URLSearchParams("step=wipe&unit=model:GR6&site=Low"), looked);
    expect(address.get("step")).toBe("wipe");
    expect(address.has("site")).toBe(false);
    expect(fromAddress(address)).toEqual(looked);
    expect(filterValue(looked, "model")).toBe("GR4: new");
  });

  it("are everything where the address cannot be read", () => {
    const looked = fromAddress(new URLSearchParams("since=soon&edition=x&source=moon&unit=GR4"));
    expect(isEverything(looked)).toBe(true);
    expect(asQuery(looked)).toEqual({});
  });

  it("ask for one value a fact, and for none once it is taken back", () => {
    const one = withFact(withFact(EVERYTHING, "model", "GR4"), "model", "GR6");
    expect(asQuery(one)).toEqual({ unit: ["model:GR6"] });
    expect(isEverything(withFact(one, "model", ""))).toBe(true);
  });
});
