/** One page's part in a draft: shown at once, sent once and in order, kept until acknowledged, never in another's name. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError, type Problem } from "../api/client";
import * as applying from "./apply";
import { apply, type Operation } from "./apply";
import { Draft } from "./draft";
import type { DraftHost, Heard, SendEdit, Server, Since } from "./state";
import type { EditStorage, Pending } from "./storage";
import { type Item, ROOT } from "./tree";

const form = (): Item => ({
  key: ROOT,
  title: "Gate",
  ladder: [
    { key: "krung1", step: "a" },
    { key: "krung2", step: "b" },
  ],
});

const refusal = (status: number, more: Partial<Problem> = {}) =>
  new ApiError(status, { type: "x", title: "x", status, detail: `refused with ${status}`, ...more } as Problem);

/** A server that keeps the rules: each number once, in order, on the newest tree. */
class FakeServer implements Server {
  root = form();
  edits: { revision: number; client: string; sent: number; done: Operation[] }[] = [];
  next = new Map<string, number>();
  fails: unknown[] = [];
  sent: SendEdit[] = [];

  read = async (clients: readonly string[]) => ({
    revision: this.edits.length + 1,
    form: this.root,
    flaws: [],
    next: Object.fromEntries(clients.flatMap((one) => (this.next.has(one) ? [[one, this.next.get(one) ?? 1]] : []))),
    saved: { who: "R. Tamsin", at: "2026-03-01T12:00:00Z", label: "Begun" },
    undo: null,
    redo: null,
  });

  since = async (base: number, client: string): Promise<Heard | undefined> => {
    if (base === this.edits.length + 1) return undefined;
    return { since: this.answer(base, client), taken: () => this.heard.push(base) };
  };

  heard: number[] = [];
  redo: { group: string; label: string } | null = null;

  send = async (edit: SendEdit): Promise<Since> => {
    this.sent.push(edit);
    if (edit.undo) this.redo = edit.undo === this.redo?.group ? null : { group: edit.group, label: "moved" };
    const failure = this.fails.shift();
    if (failure && failure !== "unheard") throw failure;
    this.take(edit.client, edit.number, (edit.operations ?? []) as unknown as Operation[]);
    if (failure === "unheard") throw refusal(0);
    return this.answer(edit.base, edit.client);
  };

  take(client: string, number: number, operations: Operation[]): void {
    const expected = this.next.get(client) ?? 1;
    if (number < expected) return;
    if (number > expected) throw refusal(409, { type: "outrun", next: expected });
    const made = apply(this.root, operations, { client, number, who: 1, at: "2026-03-01T12:00:00Z" });
    this.root = made.tree.root;
    this.next.set(client, number + 1);
    this.edits.push({ revision: this.edits.length + 2, client, sent: number, done: made.done });
  }

  private answer(base: number, client: string): Since {
    return {
      revision: this.edits.length + 1,
      next: this.next.get(client) ?? 1,
      since: this.edits
        .filter(({ revision }) => revision > base)
        .map((one) => ({
          ...one,
          group: "g",
          label: "something",
          who: "I. Vell",
          person: 2,
          at: "2026-03-01T12:00:00Z",
          place: "",
          key: ROOT,
        })),
      form: null,
      conflicts: [],
      flaws: { come: [], gone: [] },
      undo: null,
      redo: this.redo,
      here: [],
    } as unknown as Since;
  }
}

class FakeStorage implements EditStorage {
  kept = new Map<string, Pending>();
  all = async (playbookId: string, person: number) =>
    [...this.kept.values()].filter((one) => one.playbookId === playbookId && one.person === person);
  waitingOf = async () => [...new Set([...this.kept.values()].map(({ playbookId }) => playbookId))];
  keep = async (one: Pending) => void this.kept.set(`${one.person} ${one.client} ${one.number}`, structuredClone(one));
  drop = async (one: Pending) => void this.kept.delete(`${one.person} ${one.client} ${one.number}`);
}

let server: FakeServer;
let storage: FakeStorage;
let held: Set<string>;

const host = (person: number | undefined = 1): DraftHost => ({
  playbookId: "gate-arm-up",
  person,
  storage,
  server,
  hold: async (client) => {
    if (held.has(client)) return false;
    held.add(client);
    return true;
  },
  listen: () => undefined,
  letGo: () => undefined,
  tell: () => undefined,
});

async function page(person?: number): Promise<Draft> {
  const draft = new Draft(host(person));
  await draft.start();
  return draft;
}

const note = (draft: Draft, key = "krung1") => draft.state().tree?.value(key, ["note"]);
const order = (draft: Draft) =>
  draft
    .state()
    .tree?.shown(ROOT, ["ladder"])
    .map(({ key }) => key);
const down: Operation = {
  op: "move",
  key: "krung1",
  was: null,
  parent: ROOT,
  list: ["ladder"],
  after: "krung2",
  before: null,
  put: "p1",
};
const quiet = () => vi.advanceTimersByTimeAsync(60_000);

beforeEach(() => {
  vi.useFakeTimers();
  server = new FakeServer();
  storage = new FakeStorage();
  held = new Set();
});

describe("a draft in one page", () => {
  it("shows what is typed at once, and sends it when the typing rests, as one", async () => {
    const draft = await page();
    let was: string | null = null;
    for (const text of ["W", "Wi", "Wip"]) {
      draft.type("krung1", ["note"], was, text, "note");
      was = text;
      expect(note(draft)).toBe(text);
    }
    expect(server.sent).toHaveLength(0);
    await quiet();
    expect(server.sent.map(({ operations }) => operations)).toEqual([
      [{ op: "set", key: "krung1", path: ["note"], was: null, value: "Wip" }],
    ]);
    expect(draft.state().waiting).toBe(0);
    expect(storage.kept.size).toBe(0);
  });

  it("is idle only when what an earlier page left is known and sent", async () => {
    const draft = new Draft(host());
    expect(draft.isIdle).toBe(true);
    const reading = draft.start();
    expect(draft.isIdle).toBe(false);
    await reading;
    expect(draft.isIdle).toBe(true);
    draft.type("krung1", ["note"], null, "Waits", "note");
    expect(draft.isIdle).toBe(false);
    await quiet();
    expect(draft.isIdle).toBe(true);
  });

  it("tells a field of every key at once, and a page when the typing rests", async () => {
    const draft = await page();
    const heard = { field: 0, page: 0 };
    draft.subscribe(() => {
      heard.field += 1;
    });
    draft.subscribePage(() => {
      heard.page += 1;
    });
    draft.type(ROOT, ["title"], "Gate", "Gates", "typed");
    draft.type(ROOT, ["title"], "Gates", "Gatesx", "typed");
    expect(heard).toEqual({ field: 2, page: 0 });
    expect(draft.state().tree?.value(ROOT, ["title"])).toBe("Gatesx");
    vi.advanceTimersByTime(300);
    expect(heard.page).toBe(1);
    draft.type(ROOT, ["title"], "Gatesx", "Gatesxy", "typed");
    draft.do([{ op: "set", key: ROOT, path: ["note"], was: null, value: "x" }], "done");
    expect(heard.page).toBeGreaterThan(1);
  });

  it("never changes an edit that was on its way", async () => {
    const draft = await page();
    server.fails = [refusal(503)];
    draft.type("krung1", ["note"], null, "One", "note");
    await vi.advanceTimersByTimeAsync(500);
    expect(server.sent).toHaveLength(1);
    draft.type("krung1", ["note"], "One", "One more", "note");
    await quiet();
    expect(server.sent.map(({ number }) => number)).toEqual([1, 1, 2]);
    expect(server.sent[1]?.operations).toEqual(server.sent[0]?.operations);
    expect(note(draft)).toBe("One more");
  });

  it.each([[refusal(0)], [refusal(500)], [refusal(429)], ["unheard"]])(
    "keeps what does not get through: %s",
    async (why) => {
      const draft = await page();
      server.fails = [why, why];
      draft.do([down], "moved");
      expect(order(draft)).toEqual(["krung2", "krung1"]);
      await vi.advanceTimersByTimeAsync(500);
      expect(draft.state().held).toBeDefined();
      expect(draft.state().waiting).toBe(1);
      await quiet();
      expect(draft.state().waiting).toBe(0);
      expect(server.edits).toHaveLength(1);
      expect(order(draft)).toEqual(["krung2", "krung1"]);
    },
  );

  it("goes on as a new client where the server does not know its numbers", async () => {
    const draft = await page();
    draft.do([down], "moved");
    await quiet();
    server.next.clear();
    draft.do([{ op: "set", key: "krung1", path: ["note"], was: null, value: "Kept" }], "note");
    await quiet();
    expect(server.sent.at(-1)?.number).toBe(1);
    expect(server.sent.at(-1)?.client).not.toBe(server.sent[0]?.client);
    expect(note(draft)).toBe("Kept");
    expect(draft.state().waiting).toBe(0);
  });

  it("puts what the server will not have aside, with its text, and goes on", async () => {
    const draft = await page();
    server.fails = [refusal(422)];
    draft.type("krung1", ["note"], null, "Too much", "note");
    draft.flush();
    await vi.advanceTimersByTimeAsync(10);
    expect(draft.state().refused.map(({ refused }) => refused)).toEqual(["refused with 422"]);
    expect(note(draft)).toBeUndefined();
    server.next.set(server.sent[0]?.client ?? "", 2);
    draft.do([down], "moved");
    await quiet();
    expect(order(draft)).toEqual(["krung2", "krung1"]);
    expect(storage.kept.size).toBe(1);
    draft.forget(draft.state().refused[0] as Pending);
    expect(draft.state().refused).toEqual([]);
  });

  it("keeps others' deeds under what waits here", async () => {
    const draft = await page();
    server.take("otherpage1", 1, [{ op: "set", key: "krung2", path: ["note"], was: null, value: "Theirs" }]);
    server.fails = [refusal(0)];
    draft.do([down], "moved");
    await quiet();
    expect(note(draft, "krung2")).toBe("Theirs");
    expect(order(draft)).toEqual(["krung2", "krung1"]);
    expect(draft.state().others?.who).toBe("I. Vell");
  });

  it("undoes what waits at once, and the last deed only", async () => {
    const draft = await page();
    server.fails = [refusal(0), refusal(0)];
    draft.do([down], "moved");
    draft.do([{ op: "set", key: "krung1", path: ["note"], was: null, value: "Mine" }], "note");
    expect(draft.state().undo?.label).toBe("note");
    draft.undo();
    expect(note(draft)).toBeUndefined();
    expect(draft.state().undo?.label).toBe("moved");
    draft.undo();
    expect(order(draft)).toEqual(["krung1", "krung2"]);
  });

  it("begins another change when one types on after an undo, and with another part of what is set as a whole", async () => {
    const draft = await page();
    server.fails = [refusal(0)];
    draft.type("krung1", ["note"], null, "one", "note changed");
    draft.undo();
    draft.type("krung1", ["note"], null, "two", "note changed");
    draft.type("krung1", ["note"], "two", "three", "another part changed");
    const groups = [...storage.kept.values()].flatMap(({ operations, group }) => (operations ? [group] : []));
    expect(groups).toHaveLength(3);
    expect(new Set(groups).size).toBe(3);
  });

  it("takes up what an earlier page of the same person left, and sends it first under its own numbers", async () => {
    const before = await page();
    server.fails = Array(9).fill(refusal(0));
    before.do([down], "moved");
    await vi.advanceTimersByTimeAsync(100);
    before.end();
    held.clear();
    server.fails = [];
    const after = await page();
    expect(order(after)).toEqual(["krung2", "krung1"]);
    after.do([{ op: "set", key: "krung1", path: ["note"], was: null, value: "Later" }], "note");
    await quiet();
    const [first, second] = server.sent.slice(-2);
    expect([first?.number, second?.number]).toEqual([1, 1]);
    expect(first?.client).not.toBe(second?.client);
    expect(server.edits).toHaveLength(2);
  });

  it("leaves what a page that still lives has in hand", async () => {
    const one = await page();
    server.fails = Array(9).fill(refusal(0));
    one.do([down], "moved");
    await vi.advanceTimersByTimeAsync(100);
    const other = await page();
    expect(other.state().waiting).toBe(0);
  });

  it("never sends what waits of one person as another", async () => {
    const mine = await page(1);
    server.fails = Array(9).fill(refusal(0));
    mine.do([down], "moved");
    await vi.advanceTimersByTimeAsync(100);
    mine.end();
    held.clear();
    server.fails = [];
    const theirs = await page(2);
    await quiet();
    expect(theirs.state().waiting).toBe(0);
    expect(server.edits).toHaveLength(0);
    theirs.end();
    held.clear();
    await page(1);
    await quiet();
    expect(server.edits).toHaveLength(1);
  });

  it("strikes what was taken though its answer was lost, before anything is shown", async () => {
    const before = await page();
    server.fails = ["unheard", ...Array(9).fill(refusal(0))];
    before.do([down], "moved");
    await vi.advanceTimersByTimeAsync(100);
    before.end();
    held.clear();
    const after = await page();
    expect(after.state().waiting).toBe(0);
    expect(order(after)).toEqual(["krung2", "krung1"]);
  });

  it("does nothing for nobody, and says so", async () => {
    const draft = await page(undefined);
    const nobody = new Draft({ ...host(), person: undefined });
    await nobody.start();
    expect(nobody.do([down], "moved")).toBe(false);
    expect(nobody.state().held).toContain("Say who you are");
    expect(draft.state().waiting).toBe(0);
  });

  it("tries again when its time has come, though somebody types all the while", async () => {
    const draft = await page();
    server.fails = [refusal(503)];
    draft.do([down], "moved");
    await vi.advanceTimersByTimeAsync(10);
    expect(server.sent).toHaveLength(1);
    for (let key = 1; key <= 20; key++) {
      draft.type("krung1", ["note"], null, "x".repeat(key), "note");
      await vi.advanceTimersByTimeAsync(100);
    }
    expect(server.sent.length).toBeGreaterThan(1);
  });

  it("redoes what was undone a moment ago", async () => {
    const draft = await page();
    draft.do([down], "moved");
    draft.undo();
    expect(draft.state().redo).toEqual({ label: "moved" });
    draft.redo();
    await quiet();
    const undone = server.sent.filter(({ undo }) => undo !== undefined && undo !== null);
    expect(undone).toHaveLength(2);
    expect(undone[1]?.undo).toBe(undone[0]?.group);
  });

  it("comes to the same with four hundred waiting edits, and a key does none of them again", async () => {
    const draft = await page();
    server.fails = Array.from({ length: 50 }, () => refusal(503));
    for (let n = 0; n < 400; n++)
      draft.do([{ op: "set", key: "krung2", path: ["note"], was: n === 0 ? null : `n${n - 1}`, value: `n${n}` }], "x");
    const applied = vi.spyOn(applying, "apply");
    draft.type("krung1", ["note"], null, "W", "note");
    draft.type("krung1", ["note"], "W", "Wi", "note");
    expect(applied.mock.calls.length).toBeLessThanOrEqual(4);
    expect(applied).toHaveBeenCalled();
    expect([note(draft), note(draft, "krung2")]).toEqual(["Wi", "n399"]);
    applied.mockRestore();
  });

  it("asks again for what came while it was sending and was passed over", async () => {
    const draft = await page();
    server.take("other", 1, [{ op: "set", key: "krung2", path: ["note"], was: null, value: "theirs" }]);
    const answers = server.since;
    server.since = async (base, client) => {
      const heard = await answers(base, client);
      draft.do([down], "moved");
      return heard;
    };
    await draft.look();
    expect(server.heard).toEqual([]);
    server.since = answers;
    await quiet();
    expect(note(draft, "krung2")).toBe("theirs");
  });
});
