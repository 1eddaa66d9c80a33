/** Sends the moves of guided cases, one after the other, and keeps each until the server has acknowledged it. */
import { pauseAfter } from "../../api/again";
import { ApiError } from "../../api/client";
import type { ClimbView, Move } from "../../api/types";
import { drop, keep, kept, type MoveStorage, type Unsent } from "./storage";

/** What goes to the server: `key` makes sending it twice harmless, `after` is the event that it follows. */
export interface Sent {
  key: string;
  after: number;
  move: Move;
  person: number | undefined;
}

interface Refused {
  one: Unsent;
  /** Why, in the server's words. */
  why: string;
}

/** How things stand with one case. */
export interface CaseQueue {
  unsent: readonly Unsent[];
  /** Why the first of them has not got through; undefined while it is on its first way. */
  held: string | undefined;
  refused: readonly Refused[];
}

interface Line {
  unsent: Unsent[];
  refused: Refused[];
  isSending: boolean;
  failures: number;
  held: string | undefined;
  retry: ReturnType<typeof setTimeout> | undefined;
  /** When to send what another window keeps, should that one not do so itself. */
  standIn: ReturnType<typeof setTimeout> | undefined;
  queue: CaseQueue;
  /** The reading of how the case stands that is to come, and when it was read last. */
  looking: Promise<unknown> | undefined;
  lookedAt: number;
}

export interface OutboxHost {
  storage: MoveStorage;
  /** Who sits here; undefined while that is not known. */
  person: () => number | undefined;
  send: (climbId: string, sent: Sent) => Promise<ClimbView>;
  /** The number of the newest event that is known of a case; undefined where none is. */
  newest: (climbId: string) => number | undefined;
  /** Asks the server how a case stands. */
  look: (climbId: string) => Promise<unknown>;
  /** Runs the work while no other window does the same for that case. */
  alone: (climbId: string, work: () => Promise<void>) => Promise<void>;
  /** A move was acknowledged; isLast: nothing else of the case waits. */
  onSent: (climbId: string, view: ClimbView, isLast: boolean) => void;
}

/** A case is not read again sooner. */
const REST_MS = 1100;
/** How long another window has to send what it keeps. */
const STAND_IN_MS = 3000;
/** How often a move that fits anywhere is offered again at once when others have gone on meanwhile. */
const MOST_CATCHING_UP = 1;
const NOTHING: CaseQueue = { unsent: [], held: undefined, refused: [] };

/** Notes, earlier tries and ends fit wherever a case stands; an answer fits the question that it was given to. */
export const fitsAnywhere = ({ kind }: Move): boolean => FITS_ANYWHERE.has(kind);
const FITS_ANYWHERE: ReadonlySet<Move["kind"]> = new Set(["note", "tried-before", "sign", "end"]);

export class Outbox {
  private readonly lines = new Map<string, Line>();
  private readonly listeners = new Set<() => void>();
  /** Keys of what the browser let be kept. */
  private readonly isKept = new Set<string>();
  /** Cases that could not be read just now. */
  private readonly lookingLater = new Set<string>();
  private everything: readonly Unsent[] = [];

  constructor(private readonly host: OutboxHost) {
    for (const one of kept(host.storage)) {
      this.isKept.add(one.key);
      const line = this.lineOf(one.climbId);
      if (one.refused === undefined) line.unsent.push(one);
      else line.refused.push({ one, why: one.refused });
    }
    for (const climbId of this.lines.keys()) this.changed(climbId);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  of = (climbId: string): CaseQueue => this.lines.get(climbId)?.queue ?? NOTHING;

  /** Everything that does not get through, of every case. */
  all = (): readonly Unsent[] => this.everything;

  /** Keep a move and send it as soon as those before it are through. False where it answers what is answered already. */
  add(one: Omit<Unsent, "at">): boolean {
    const line = this.lineOf(one.climbId);
    const mine = line.unsent.filter((other) => this.isMine(other));
    if (!fitsAnywhere(one.move) && mine.some(({ move }) => !fitsAnywhere(move) || move.kind === "end")) return false;
    const at = Math.max(Date.now(), (line.unsent.at(-1)?.at ?? 0) + 1);
    const made = { ...one, at };
    if (keep(this.host.storage, made)) this.isKept.add(made.key);
    line.unsent.push(made);
    // What was written stays to be read until somebody has understood that it was not taken.
    line.refused = line.refused.filter(({ one: { move } }) => move.kind === "note");
    this.changed(one.climbId);
    void this.next(one.climbId);
    return true;
  }

  /** Send what waits now, not when its time comes. */
  sendNow = (): void => {
    for (const [climbId, line] of this.lines) {
      clearTimeout(line.retry);
      line.retry = undefined;
      void this.next(climbId);
    }
  };

  /** Other windows have kept or sent something. */
  lookAgain = (): void => {
    const all = kept(this.host.storage).filter(({ refused }) => refused === undefined);
    for (const { key } of all) this.isKept.add(key);
    for (const climbId of new Set([...this.lines.keys(), ...all.map((one) => one.climbId)])) {
      const line = this.lineOf(climbId);
      if (line.isSending) continue;
      const mine = all.filter((one) => one.climbId === climbId);
      if (line.unsent.some((one) => this.isThrough(one))) this.lookAt(climbId);
      line.unsent = [...mine, ...line.unsent.filter(({ key }) => !this.isKept.has(key))];
      this.changed(climbId);
      clearTimeout(line.standIn);
      if (mine.length > 0) line.standIn = setTimeout(() => void this.next(climbId), STAND_IN_MS);
    }
  };

  /** Leave something out that does not get through. */
  leaveOut(one: Unsent): void {
    this.remove(one);
    const line = this.lineOf(one.climbId);
    clearTimeout(line.retry);
    line.retry = undefined;
    line.held = undefined;
    line.failures = 0;
    this.changed(one.climbId);
    void this.next(one.climbId);
  }

  understood(climbId: string): void {
    const line = this.lineOf(climbId);
    for (const { one } of line.refused) drop(this.host.storage, one);
    line.refused = [];
    this.changed(climbId);
  }

  private async next(climbId: string): Promise<void> {
    const line = this.lineOf(climbId);
    if (line.unsent.length === 0 || line.isSending || line.retry !== undefined) return;
    const [first] = line.unsent;
    if (first && !line.unsent.some((one) => this.isMine(one))) {
      line.held = `${first.by ?? "Somebody else"} did this; it is sent when they sit here again`;
      return this.changed(climbId);
    }
    line.isSending = true;
    await this.host.alone(climbId, () => this.sendFirst(climbId, line));
    line.isSending = false;
    this.changed(climbId);
    return this.next(climbId);
  }

  /** Send the first that waits, unless another window has done so meanwhile. */
  private async sendFirst(climbId: string, line: Line, catchingUp = 0): Promise<void> {
    const first = line.unsent.find((one) => this.isMine(one));
    if (!first) return;
    if (this.isThrough(first)) return this.dropThrough(climbId, line, first);
    try {
      if (first.after === undefined) {
        if (this.host.newest(climbId) === undefined) await this.look(climbId);
        first.after = this.host.newest(climbId) ?? 0;
        keep(this.host.storage, first);
      }
      const { key, move, person } = first;
      const view = await this.host.send(climbId, { key, after: first.after, move, person });
      this.remove(first);
      line.failures = 0;
      line.held = undefined;
      this.host.onSent(climbId, view, line.unsent.length === 0);
    } catch (error) {
      if (this.isThrough(first)) return this.dropThrough(climbId, line, first);
      if (isPassing(error)) return this.wait(climbId, line, error);
      if (isBehind(error) && fitsAnywhere(first.move)) {
        const isSeen = await this.look(climbId).then(
          () => true,
          () => false,
        );
        first.after = this.host.newest(climbId);
        if (isSeen && catchingUp < MOST_CATCHING_UP) return this.sendFirst(climbId, line, catchingUp + 1);
        return this.wait(climbId, line, error);
      }
      this.lookAt(climbId);
      this.remove(first);
      line.held = undefined;
      const why = reason(error);
      line.refused = [...line.refused, { one: first, why }];
      if (first.move.kind === "note") keep(this.host.storage, { ...first, refused: why });
    }
  }

  /** Whether it has gone from where it was kept: another window has sent it. */
  private isThrough(one: Unsent): boolean {
    return this.isKept.has(one.key) && !kept(this.host.storage).some(({ key }) => key === one.key);
  }

  /** Another person's waits until they sit here again. */
  private isMine({ person }: Pick<Unsent, "person">): boolean {
    const here = this.host.person();
    return person === undefined || here === undefined || person === here;
  }

  private dropThrough(climbId: string, line: Line, { key }: Unsent): void {
    line.unsent = line.unsent.filter((one) => one.key !== key);
    line.held = undefined;
    this.lookAt(climbId);
  }

  /** How the case stands, read at once, or when a moment has gone by since it was read last: what is refused one after
   * the other asks for it once, not once each. */
  private look(climbId: string): Promise<unknown> {
    const line = this.lineOf(climbId);
    line.looking ??= this.rested(line.lookedAt).then(() => {
      line.looking = undefined;
      line.lookedAt = Date.now();
      return this.host.look(climbId);
    });
    return line.looking;
  }

  private async rested(since: number): Promise<void> {
    const left = since + REST_MS - Date.now();
    if (left > 0) await new Promise((done) => setTimeout(done, left));
  }

  /** How the case stands now; a line that is down meanwhile is asked again until it answers. */
  private lookAt(climbId: string, failures = 1): void {
    this.look(climbId).catch((error) => {
      if (isPassing(error)) this.lookLater(climbId, failures);
    });
  }

  private lookLater(climbId: string, failures = 1): void {
    if (this.lookingLater.has(climbId)) return;
    this.lookingLater.add(climbId);
    setTimeout(() => {
      this.lookingLater.delete(climbId);
      this.lookAt(climbId, failures + 1);
    }, pauseAfter(failures));
  }

  private wait(climbId: string, line: Line, error: unknown): void {
    line.failures += 1;
    line.held = reason(error);
    line.retry = setTimeout(() => {
      line.retry = undefined;
      void this.next(climbId);
    }, pauseAfter(line.failures));
    this.changed(climbId);
  }

  private remove(one: Unsent): void {
    drop(this.host.storage, one);
    const line = this.lineOf(one.climbId);
    line.unsent = line.unsent.filter(({ key }) => key !== one.key);
  }

  private lineOf(climbId: string): Line {
    let line = this.lines.get(climbId);
    if (!line) {
      line = {
        unsent: [],
        refused: [],
        isSending: false,
        failures: 0,
        held: undefined,
        retry: undefined,
        standIn: undefined,
        queue: NOTHING,
        looking: undefined,
        lookedAt: 0,
      };
      this.lines.set(climbId, line);
    }
    return line;
  }

  private changed(climbId: string): void {
    const line = this.lineOf(climbId);
    if (line.unsent.length === 0) line.held = undefined;
    line.queue = { unsent: [...line.unsent], held: line.held, refused: line.refused };
    this.everything = [...this.lines.values()].flatMap((one) => (one.held === undefined ? [] : one.unsent));
    for (const listener of this.listeners) listener();
  }
}

const WAITS_FOR = ["no-person", "other-person"];

/** What passes by itself: no answer, a busy or failing server, nobody at the browser yet. */
function isPassing(error: unknown): boolean {
  if (!(error instanceof ApiError)) return true;
  return (
    [0, 408, 423, 425, 429].includes(error.status) || error.status >= 500 || WAITS_FOR.includes(error.problem.type)
  );
}

/** Others have gone on with the case meanwhile. */
const isBehind = (error: unknown) => error instanceof ApiError && error.status === 412;

const reason = (error: unknown) => (error instanceof Error ? error.message : String(error));
