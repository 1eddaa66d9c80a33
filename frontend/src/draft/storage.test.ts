import "fake-indexeddb/auto";
import { describe, expect, it } from "vitest";
import { browserStorage, type Pending } from "./storage";

const pending = (number: number, more: Partial<Pending> = {}): Pending => ({
  playbookId: "gate-arm-up",
  person: 1,
  client: "pageone01",
  number,
  group: "group-one",
  says: "something",
  at: 100 - number,
  ...more,
});

describe("what waits", () => {
  it("is kept by playbook and person, in the order in which it was made", async () => {
    for (const one of [pending(1, { at: 5 }), pending(2, { at: 6 }), pending(1, { client: "pagetwo02", at: 4 })]) {
      await browserStorage.keep(one);
    }
    await browserStorage.keep(pending(1, { person: 2 }));
    await browserStorage.keep(pending(1, { playbookId: "other" }));
    const found = await browserStorage.all("gate-arm-up", 1);
    expect((await browserStorage.waitingOf(1)).sort()).toEqual(["gate-arm-up", "other"]);
    expect(await browserStorage.waitingOf(3)).toEqual([]);
    expect(found.map(({ client, number }) => `${client} ${number}`)).toEqual([
      "pagetwo02 1",
      "pageone01 1",
      "pageone01 2",
    ]);
  });

  it("is changed in place and dropped for good", async () => {
    await browserStorage.keep(pending(1, { says: "changed" }));
    expect((await browserStorage.all("gate-arm-up", 1)).filter(({ says }) => says === "changed")).toHaveLength(1);
    for (const one of await browserStorage.all("gate-arm-up", 1)) await browserStorage.drop(one);
    expect(await browserStorage.all("gate-arm-up", 1)).toEqual([]);
    expect(await browserStorage.all("gate-arm-up", 2)).toHaveLength(1);
  });
});
