import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError } from "../../api/client";
import type { ClimbView, Move } from "../../api/types";
import { Outbox, type Sent } from "./outbox";
import { kept, type MoveStorage } from "./storage";

const CASE = "case-1";
const FAILS: Move = { kind: "baseline", result: "fails" };
const note = (text: string): Move => ({ kind: "note", text });
const END: Move = { kind: "end", end: "abandoned" };
const refusal = (status: number, type = "x") =>
  new ApiError(status, { type, title: "", status, detail: `refused with ${status}` });

class Memory implements MoveStorage {
  private readonly items = new Map<string, string>();
  get length() {
    return this.items.size;
  }
  key = (n: number) => [...this.items.keys()][n] ?? null;
  getItem = (name: string) => this.items.get(name) ?? null;
  setItem = (name: string, value: string) => void this.items.set(name, value);
  removeItem = (name: string) => void this.items.delete(name);
}

/** A server that takes moves in their order, and fails as it is told. */
class Server {
  number = 1;
  taken: Sent[] = [];
  asked = 0;
  fails: (Error | undefined)[] = [];
  hides: Error[] = [];
  looked = 0;
  send = async (_: string, sent: Sent): Promise<ClimbView> => {
    this.asked += 1;
    const failure = this.fails.shift();
    if (failure) throw failure;
    if (!this.taken.some(({ key }) => key === sent.key)) {
      if (sent.after !== this.number) throw refusal(412);
      this.taken.push(sent);
      this.number += 1;
    }
    return { id: CASE, number: this.number } as ClimbView;
  };
}

let storage: Memory;
let server: Server;
let newest: number | undefined;
let outbox: Outbox;
let here: number | undefined;

const opened = () =>
  new Outbox({
    storage,
    person: () => here,
    send: server.send,
    newest: () => newest,
    look: async () => {
      server.looked += 1;
      const failure = server.hides.shift();
      if (failure) throw failure;
      newest = server.number;
    },
    alone: (_, work) => work(),
    onSent: (_, view) => {
      newest = view.number;
    },
  });

let made = 0;
const add = (move: Move, key = `key-${made++}`, whose: { person?: number; by?: string } = {}) =>
  outbox.add({ climbId: CASE, called: "G-1", key, move, says: move.kind, ...whose });
const settle = () => vi.advanceTimersByTimeAsync(0);
const moves = () => server.taken.map(({ move }) => move);

beforeEach(() => {
  vi.useFakeTimers();
  storage = new Memory();
  server = new Server();
  newest = 1;
  outbox = opened();
});
afterEach(() => vi.useRealTimers());

describe("the outbox", () => {
  it("sends one after the other, each upon the one before", async () => {
    add(FAILS);
    add(note("a"));
    add(END);
    await settle();
    expect(server.taken.map(({ after }) => after)).toEqual([1, 2, 3]);
    expect(kept(storage)).toEqual([]);
    expect(outbox.of(CASE)).toEqual({ unsent: [], held: undefined, refused: [] });
  });

  it.each([0, 423, 429, 500, 503])("keeps what gets %i for an answer, and sends it again by itself", async (status) => {
    server.fails = [refusal(status), refusal(status)];
    add(FAILS);
    await settle();
    expect(outbox.of(CASE).held).toBe(`refused with ${status}`);
    expect(outbox.all()).toHaveLength(1);
    expect(kept(storage)).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(5000);
    expect(moves()).toEqual([FAILS]);
    expect(outbox.all()).toEqual([]);
  });

  it("asks ever more seldom, and never twice in half a second", async () => {
    server.fails = Array.from({ length: 100 }, () => refusal(503));
    add(FAILS);
    const asked: number[] = [];
    for (let half = 0; half < 120; half++) {
      const before = server.asked;
      await vi.advanceTimersByTimeAsync(500);
      asked.push(server.asked - before);
    }
    expect(Math.max(...asked)).toBe(1);
    expect(server.asked).toBeLessThan(10);
  });

  it("waits for somebody to say who they are", async () => {
    server.fails = [refusal(403, "no-person")];
    add(FAILS);
    await settle();
    expect(outbox.of(CASE).unsent).toHaveLength(1);
    outbox.sendNow();
    await settle();
    expect(moves()).toEqual([FAILS]);
  });

  it("tells what is refused with the reason, and goes on with what follows", async () => {
    server.fails = [refusal(422)];
    add(FAILS);
    add(note("kept"));
    await settle();
    expect(moves()).toEqual([note("kept")]);
    expect(outbox.of(CASE).refused.map(({ one, why }) => [one.move, why])).toEqual([[FAILS, "refused with 422"]]);
    outbox.understood(CASE);
    expect(outbox.of(CASE).refused).toEqual([]);
  });

  it("takes no second answer while one waits, nor one after the end, but notes and the end", async () => {
    server.fails = [refusal(0)];
    expect(add(FAILS)).toBe(true);
    expect(add(FAILS)).toBe(false);
    expect(add(note("a"))).toBe(true);
    expect(add(END)).toBe(true);
    expect(add({ kind: "take-back" })).toBe(false);
    await settle();
    expect(outbox.of(CASE).unsent.map(({ move }) => move)).toEqual([FAILS, note("a"), END]);
  });

  it("offers a note again where others have gone on meanwhile, and an answer not", async () => {
    server.number = 4;
    add(note("late"));
    await settle();
    expect(moves()).toEqual([note("late")]);
    newest = 1;
    add(FAILS);
    await settle();
    expect(outbox.of(CASE).refused.map(({ one }) => one.move)).toEqual([FAILS]);
  });

  it("reads how a case stands once for all that is refused one after the other", async () => {
    server.fails = Array.from({ length: 6 }, () => refusal(422));
    for (const text of ["a", "b", "c", "d", "e", "f"]) add(note(text));
    const looked: number[] = [];
    for (let tick = 0; tick < 80; tick++) {
      const before = server.looked;
      await vi.advanceTimersByTimeAsync(100);
      looked.push(server.looked - before);
    }
    expect(outbox.of(CASE)).toMatchObject({ unsent: [] });
    expect(outbox.of(CASE).refused).toHaveLength(6);
    for (let tick = 0; tick + 10 <= looked.length; tick++) {
      expect(looked.slice(tick, tick + 10).reduce((sum, n) => sum + n, 0)).toBeLessThanOrEqual(1);
    }
  });

  it("shows in the end how a case stands that went on elsewhere, though the line was down when it was asked", async () => {
    server.number = 4;
    server.hides = [refusal(0), refusal(503)];
    add(FAILS);
    await settle();
    expect(outbox.of(CASE).refused).toHaveLength(1);
    expect(newest).toBe(1);
    expect(server.hides, "a line that is down is not asked at once again").toHaveLength(1);
    await vi.advanceTimersByTimeAsync(5000);
    expect(newest).toBe(4);
  });

  it("takes up after a reload what was kept, in its order and under its keys", async () => {
    server.fails = [refusal(0)];
    add(FAILS, "first");
    add(note("second"), "second");
    await settle();
    outbox = opened();
    outbox.sendNow();
    await settle();
    expect(server.taken.map(({ key }) => key)).toEqual(["first", "second"]);
  });

  it("sends once what two windows keep, and leaves to the other what that has sent", async () => {
    server.fails = [refusal(0)];
    add(FAILS, "one");
    await settle();
    const other = opened();
    other.sendNow();
    await settle();
    outbox.lookAgain();
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.asked).toBe(2);
    expect(outbox.of(CASE).unsent).toEqual([]);
  });

  it("lets something be left out that does not get through", async () => {
    server.fails = [refusal(500)];
    add(FAILS);
    await settle();
    const [first] = outbox.of(CASE).unsent;
    if (first) outbox.leaveOut(first);
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.asked).toBe(1);
    expect(kept(storage)).toEqual([]);
  });

  it("still sends where the browser keeps nothing", async () => {
    storage.setItem = () => {
      throw new Error("full");
    };
    add(FAILS);
    await settle();
    expect(moves()).toEqual([FAILS]);
  });

  it("does not forget what it could not keep when another window has kept something", async () => {
    storage.setItem = () => {
      throw new Error("full");
    };
    server.fails = [refusal(0)];
    add(FAILS);
    await settle();
    outbox.lookAgain();
    await vi.advanceTimersByTimeAsync(5000);
    expect(moves()).toEqual([FAILS]);
  });

  it("shows a note that was not taken until that is understood, whatever is answered meanwhile", async () => {
    server.fails = [refusal(422)];
    add(note("long and dear"));
    await settle();
    add(FAILS);
    await settle();
    const told = () => outbox.of(CASE).refused.map(({ one, why }) => [one.move, why]);
    expect(told()).toEqual([[note("long and dear"), "refused with 422"]]);
    outbox = opened();
    expect(told()).toEqual([[note("long and dear"), "refused with 422"]]);
    expect(outbox.of(CASE).unsent).toEqual([]);
    outbox.lookAgain();
    outbox.sendNow();
    await settle();
    expect(moves()).toEqual([FAILS]);
    outbox.understood(CASE);
    outbox = opened();
    expect(told()).toEqual([]);
  });

  it("sends at once what stood behind what is left out", async () => {
    server.fails = [refusal(500)];
    add(FAILS);
    add(note("behind"));
    await settle();
    const [first] = outbox.of(CASE).unsent;
    if (first) outbox.leaveOut(first);
    await settle();
    expect(moves()).toEqual([note("behind")]);
  });

  it("keeps what another person did until they sit here again, and lets nobody else wait for it", async () => {
    server.fails = [refusal(503)];
    here = 1;
    add(note("seen"), "theirs", { person: 1, by: "I. Vell" });
    await settle();
    here = 2;
    outbox.sendNow();
    add(note("seen"), "mine", { person: 2, by: "R. Tamsin" });
    await settle();
    expect(server.taken.map(({ key, person }) => [key, person])).toEqual([["mine", 2]]);
    expect(outbox.of(CASE).unsent.map(({ key }) => key)).toEqual(["theirs"]);
    expect(outbox.of(CASE).held).toContain("I. Vell did this");
    here = 1;
    outbox.sendNow();
    await settle();
    expect(server.taken.map(({ key, person }) => [key, person])).toEqual([
      ["mine", 2],
      ["theirs", 1],
    ]);
  });
});
