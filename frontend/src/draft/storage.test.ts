import "fake-indexeddb/auto";
import { describe, expect, it } from "vitest";
import { browserShelf, type Pending } from "./storage";

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
      await browserShelf.keep(one);
    }
    await browserShelf.keep(pending(1, { person: 2 }));
    await browserShelf.keep(pending(1, { playbookId: "other" }));
    const found = await browserShelf.all("gate-arm-up", 1);
    expect((await browserShelf.waitingOf(1)).sort()).toEqual(["gate-arm-up", "other"]);
    expect(await browserShelf.waitingOf(3)).toEqual([]);
    expect(found.map(({ client, number }) => `${client} ${number}`)).toEqual([
      "pagetwo02 1",
      "pageone01 1",
      "pageone01 2",
    ]);
  });

  it("is changed in place and dropped for good", async () => {
    await browserShelf.keep(pending(1, { says: "changed" }));
    expect((await browserShelf.all("gate-arm-up", 1)).filter(({ says }) => says === "changed")).toHaveLength(1);
    for (const one of await browserShelf.all("gate-arm-up", 1)) await browserShelf.drop(one);
    expect(await browserShelf.all("gate-arm-up", 1)).toEqual([]);
    expect(await browserShelf.all("gate-arm-up", 2)).toHaveLength(1);
  });
});
