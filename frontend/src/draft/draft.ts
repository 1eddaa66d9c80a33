/** One draft in one page of one person: what the server has confirmed, the edits that wait, and what both come to. */

import { pauseAfter } from "../api/again";
import { ApiError } from "../api/client";
import { Ahead } from "./ahead";
import type { Conflict, Operation, Stamp } from "./apply";
import { Confirmed, flawsAfter } from "./confirmed";
import { formOf } from "./items";
import { newKey } from "./keys";
import { keptMine, settled } from "./settling";
import type { Change, DraftForm, DraftHost, DraftState, EditView, SendEdit, Since } from "./state";
import type { Deed, Pending } from "./storage";
import { Telling } from "./telling";
import { CONFLICTS, ROOT, Tree } from "./tree";

const SETTLED_MS = 400;
const SAME_RUN_MS = 5000;
/** So many operations are taken in one edit, and a few to spare. */
const MOST_OPERATIONS = 450;
const NOBODY = "Say who you are first: choose your name at the top right";

export class Draft {
  private confirmed: Confirmed | undefined;
  private queue: Pending[] = [];
  private refused: Pending[] = [];
  private client = newKey() + newKey();
  private number = 0;
  private run: { field: string; group: string; at: number } | undefined;
  /** Until when the newest edit takes in further keystrokes before it is sent. */
  private due = 0;
  /** Undos and redos that wait until the server has answered the one before. */
  private wanted: ("undo" | "redo")[] = [];
  private isSending = false;
  private isStarted = false;
  private isListening = false;
  private isOver = false;
  private failures = 0;
  /** When what failed is tried again, whatever is typed meanwhile. */
  private retryAt = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private told: Pick<DraftState, "flaws" | "here" | "saved" | "others"> & {
    undo: Change | undefined;
    redo: Change | undefined;
  } = { flaws: [], here: [], saved: undefined, others: undefined, undo: undefined, redo: undefined };
  private held: string | undefined;
  private error: Error | undefined;
  private ahead: Ahead | undefined;
  private readonly telling = new Telling();
  private current: DraftState;

  constructor(private readonly host: DraftHost) {
    this.current = this.made();
  }

  subscribe = this.telling.addField;

  /** The same for whole pages: of what is typed they are told when the typing rests, so that no key waits for a page to
   * be drawn anew; of everything else at once. */
  subscribePage = this.telling.addPage;

  state = (): DraftState => this.current;

  /** Whether nothing of it has to be sent yet. While it is being read, what earlier pages left is not known. */
  get isIdle(): boolean {
    const isBeingRead = this.isStarted && !this.confirmed;
    return this.queue.length === 0 && !isBeingRead;
  }

  /** Whether anybody shows it. */
  get isShown(): boolean {
    return this.telling.hasListeners;
  }

  /** Read the draft, and take up what earlier pages of this person left. */
  async start(): Promise<void> {
    if (this.isStarted || this.isOver) return;
    this.isStarted = true;
    if (!this.isListening) this.host.listen();
    this.isListening = true;
    await this.load();
    void this.pump();
  }

  private async load(): Promise<void> {
    const { storage, playbookId, person, hold, server } = this.host;
    try {
      if (person !== undefined) {
        await hold(this.client);
        const known = new Set(this.queue.map(nameOf));
        const left = (await storage.all(playbookId, person)).filter((one) => !known.has(nameOf(one)));
        const taken: Pending[] = [];
        for (const client of new Set(left.map((one) => one.client))) {
          if (client !== this.client && (await hold(client)))
            taken.push(...left.filter((one) => one.client === client));
        }
        this.refused.push(...taken.filter((one) => one.refused !== undefined));
        this.queue = [...taken.filter((one) => one.refused === undefined), ...this.queue];
      }
      const read = await server.read([...new Set(this.queue.map((one) => one.client))].slice(0, 50));
      for (const [client, next] of Object.entries(read.next)) this.strike(client, next);
      this.take(read);
      this.error = undefined;
    } catch (error) {
      this.error = error as Error;
      this.isStarted = false;
    }
    this.changed();
  }

  /** End of this page's part in it: the person has changed. What waits stays kept for its own. */
  end(): void {
    this.isOver = true;
    clearTimeout(this.timer);
    this.host.letGo();
  }

  // Editing

  /** One deed, made of operations; a long one goes in several edits. False where nobody has said who they are. */
  do(operations: Operation[], says: string, group = newKey() + newKey()): boolean {
    for (let at = 0; at < operations.length; at += MOST_OPERATIONS) {
      if (!this.add({ operations: operations.slice(at, at + MOST_OPERATIONS), says, group })) return false;
    }
    return true;
  }

  /** A deed that the server carries out. */
  ask(deed: Deed, says: string): boolean {
    return this.add({ deed, says, group: newKey() + newKey() });
  }

  /** What a field holds now. was: what the person had before them when they typed it. */
  type(key: string, path: readonly string[], was: unknown, value: unknown, says: string): boolean {
    const field = [key, ...path, says].join(" ");
    const now = Date.now();
    if (this.run?.field !== field || now - this.run.at > SAME_RUN_MS) {
      this.run = { field, group: newKey() + newKey(), at: now };
    }
    this.run.at = now;
    this.due = now + SETTLED_MS;
    const last = this.queue.at(-1);
    const first = last?.operations?.[0];
    if (last && first?.op === "set" && !last.isSent && last.group === this.run.group && last.client === this.client) {
      last.operations = [{ ...first, value: value ?? null }];
      void this.host.storage.keep({ ...last });
      this.changedQuietly();
      void this.pump();
      return true;
    }
    const operation: Operation = { op: "set", key, path, was: was ?? null, value: value ?? null };
    return this.add({ operations: [operation], says, group: this.run.group }, this.changedQuietly);
  }

  /** What was typed goes now. */
  flush = (): void => {
    this.due = 0;
    this.run = undefined;
    void this.pump();
  };

  undo(): void {
    this.run = undefined;
    const group = this.wanted.length > 0 ? undefined : this.undoable();
    if (group) this.add({ undo: group.group, says: `Undone: ${group.label}`, group: newKey() + newKey() });
    else if (this.queue.some((one) => one.undo !== undefined)) this.wanted.push("undo");
  }

  redo(): void {
    this.run = undefined;
    const { redo } = this.told;
    // What was undone a moment ago can be brought back once the server has undone it.
    if (this.queue.at(-1)?.undo !== undefined) this.wanted.push("redo");
    else if (redo && this.queue.length === 0) {
      this.add({ undo: redo.group, says: `Redone: ${redo.label}`, group: newKey() + newKey() });
    }
  }

  /** The newest group of one's own that stands, as far as this page can know. */
  private undoable(): Change | undefined {
    const undone = new Set(this.queue.flatMap((one) => one.undo ?? []));
    const deeds = this.queue.filter((one) => one.undo === undefined && !undone.has(one.group));
    const newest = deeds.at(-1);
    if (newest) return { group: newest.group, label: newest.says };
    if (undone.size > 0) return undefined;
    return this.told.undo;
  }

  private redoable(): { label: string } | undefined {
    const last = this.queue.at(-1);
    if (last?.undo !== undefined) return { label: last.says.replace(/^Undone: /, "") };
    return this.queue.length === 0 && this.told.redo ? { label: this.told.redo.label } : undefined;
  }

  /** What the server would not have is understood. */
  forget(one: Pending): void {
    this.refused = this.refused.filter((other) => other !== one);
    void this.host.storage.drop(one);
    this.changed();
  }

  /** Settle a conflict with what stands there. */
  takeTheirs(conflict: Conflict): void {
    const { tree } = this.current;
    if (tree) this.do([settled(tree, conflict)], "A conflict settled");
  }

  /** Settle a conflict with what was wished, or bring back what it was wished for. */
  keepMine(conflict: Conflict): void {
    const { tree } = this.current;
    if (tree) this.do(keptMine(tree, conflict), conflict.why === "taken out" ? "Brought back" : "A conflict settled");
  }

  private add(one: Pick<Pending, "group" | "says"> & Partial<Pending>, tell = this.changed): boolean {
    const { playbookId, person, storage } = this.host;
    if (person === undefined) {
      this.held = NOBODY;
      this.changed();
      return false;
    }
    this.number += 1;
    const made: Pending = { playbookId, person, client: this.client, number: this.number, at: Date.now(), ...one };
    this.queue.push(made);
    void storage.keep({ ...made });
    tell();
    void this.pump();
    return true;
  }

  // Sending

  /** Send what waits, one after the other, the oldest first. */
  private async pump(): Promise<void> {
    clearTimeout(this.timer);
    const first = this.queue[0];
    if (!first || this.isSending || this.isOver || !this.confirmed) return;
    const wait = this.failures > 0 ? this.retryAt - Date.now() : this.queue.length === 1 ? this.due - Date.now() : 0;
    if (wait > 0 && (!first.isSent || this.failures > 0)) this.timer = setTimeout(() => void this.sendFirst(), wait);
    else await this.sendFirst();
  }

  /** What waits is tried now, not when its time comes. */
  sendNow = (): void => {
    clearTimeout(this.timer);
    this.due = 0;
    void this.sendFirst();
  };

  private async sendFirst(): Promise<void> {
    const first = this.queue[0];
    if (!first || this.isSending || this.isOver || !this.confirmed) return;
    this.isSending = true;
    first.isSent = true;
    this.changedQuietly();
    void this.host.storage.keep({ ...first });
    try {
      const { client, number, group, operations, undo, deed } = first;
      const base = this.confirmed.revision;
      const edit = {
        client,
        number,
        base,
        group,
        ...(operations && { operations }),
        ...(undo && { undo }),
        ...(deed && { deed }),
      };
      const answer = await this.host.server.send(edit as SendEdit);
      this.failures = 0;
      this.held = undefined;
      await this.absorb(answer, client);
      this.host.tell();
    } catch (error) {
      await this.failed(first, error);
    }
    this.isSending = false;
    this.changed();
    if (this.queue.length === 0) {
      const next = this.wanted.shift();
      if (next === "undo") this.undo();
      else if (next === "redo") this.redo();
    }
    void this.pump();
  }

  private async failed(first: Pending, error: unknown): Promise<void> {
    const status = error instanceof ApiError ? error.status : 0;
    const type = error instanceof ApiError ? error.problem.type : "";
    if (type === "outrun") return this.goOnAnew(first.client);
    if ([404, 409, 413, 422].includes(status)) {
      this.queue = this.queue.filter((one) => one !== first);
      const kept = { ...first, refused: reason(error) };
      this.refused = [...this.refused, kept];
      await this.host.storage.keep(kept);
      if (status === 413) await this.usedUp(first);
      return;
    }
    this.failures += 1;
    this.retryAt = Date.now() + pauseAfter(this.failures);
    this.held = reason(error);
  }

  /** A number that the server did not use up leaves a gap that what follows must not fall into. */
  private async usedUp(first: Pending): Promise<void> {
    if (this.queue.some((one) => one.client === first.client) || first.client === this.client) {
      await this.goOnAnew(first.client);
    }
  }

  /** The server does not know this client's numbers: what waits goes on under a new one. */
  private async goOnAnew(client: string): Promise<void> {
    const fresh = newKey() + newKey();
    await this.host.hold(fresh);
    let number = 0;
    for (const one of this.queue) {
      if (one.client !== client) continue;
      const before = { ...one };
      number += 1;
      one.client = fresh;
      one.number = number;
      // Kept under its new name before it goes from under the old one: between the two nothing is lost.
      await this.host.storage.keep({ ...one });
      await this.host.storage.drop(before);
    }
    if (client === this.client) {
      this.client = fresh;
      this.number = number;
    }
  }

  // Hearing

  /** Ask what others have done. */
  async look(): Promise<void> {
    if (!this.confirmed) return this.start();
    if (this.isSending || this.isOver) return;
    try {
      const heard = await this.host.server.since(this.confirmed.revision, this.client);
      if (heard && !this.isSending) {
        await this.absorb(heard.since, this.client);
        heard.taken();
        this.changed();
      }
    } catch {
      // The next look will tell.
    }
  }

  private async absorb(answer: Since, client: string): Promise<void> {
    if (!this.confirmed) return;
    const heard = this.confirmed.heard(answer, (edit) => this.waitingAs(edit));
    if (!heard) return this.readAgain();
    for (const edit of heard) {
      this.told.saved = { who: edit.who, at: edit.at, label: edit.label };
      if (edit.person !== this.host.person) this.told.others = edit;
    }
    this.strike(client, answer.next);
    this.told = {
      ...this.told,
      flaws: this.confirmed.revision === answer.revision ? flawsAfter(this.told.flaws, answer) : this.told.flaws,
      here: answer.here,
      undo: answer.undo ?? undefined,
      redo: answer.redo ?? undefined,
    };
  }

  /** An edit of this page that waits still, to be done on what is confirmed. */
  private waitingAs({ client, sent }: EditView): { one: Pending; stamp: Stamp } | undefined {
    const one = this.queue.find((waiting) => waiting.client === client && waiting.number === sent);
    return one && { one, stamp: this.stamp(one) };
  }

  private async readAgain(): Promise<void> {
    const read = await this.host.server.read([...new Set(this.queue.map((one) => one.client))].slice(0, 50));
    for (const [client, next] of Object.entries(read.next)) this.strike(client, next);
    this.take(read);
  }

  /** The draft as it was read is what is confirmed from now on. */
  private take({ revision, form, flaws, saved, undo, redo }: DraftForm): void {
    this.confirmed = new Confirmed(revision, new Tree(formOf(form)), this.confirmed?.inverses);
    this.told = { ...this.told, flaws, saved, undo: undo ?? undefined, redo: redo ?? undefined };
  }

  /** What was taken, though its answer may have been lost, waits no more. */
  private strike(client: string, next: number): void {
    for (const one of this.queue) {
      if (one.client === client && one.number < next) void this.host.storage.drop(one);
    }
    this.queue = this.queue.filter((one) => one.client !== client || one.number >= next);
  }

  // Showing

  private stamp({ client, number, person }: Pending): Stamp {
    return { client, number, who: person, at: new Date().toISOString() };
  }

  private changed = (): void => {
    this.current = this.made();
    this.telling.all();
  };

  private changedQuietly = (): void => {
    this.current = this.made();
    this.telling.quietly();
  };

  /** Somebody is about to do more than type: what they do has to meet what they typed. */
  catchUp = (): void => {
    this.telling.catchUp();
  };

  private made(): DraftState {
    const tree = this.shown();
    const undo = this.undoable();
    return {
      tree,
      revision: this.confirmed?.revision ?? 0,
      coming: this.isSending && this.confirmed && this.queue.length === 1 ? this.confirmed.revision + 1 : undefined,
      isAhead: tree !== this.confirmed?.tree || this.queue.some((one) => one.deed),
      waiting: this.queue.length,
      held: this.queue.length > 0 || this.held === NOBODY ? this.held : undefined,
      refused: this.refused,
      conflicts: tree ? (tree.shown(ROOT, [CONFLICTS]) as Conflict[]) : [],
      flaws: this.told.flaws,
      undo: undo && { label: undo.label },
      redo: this.redoable(),
      saved: this.told.saved,
      here: this.told.here,
      others: this.told.others,
      error: this.confirmed ? undefined : this.error,
    };
  }

  private shown(): Tree | undefined {
    if (!this.confirmed) return undefined;
    // The newest edit alone changes while somebody types: what those before it come to is kept.
    const before = this.queue.slice(0, -1);
    if (!this.ahead?.isOf(this.confirmed, before)) {
      this.ahead = new Ahead(this.confirmed, (one) => this.stamp(one));
    }
    this.ahead.goOn(before);
    const last = this.queue.at(-1);
    return last ? this.ahead.with(last) : this.ahead.tree;
  }
}

const nameOf = ({ client, number }: Pending) => `${client} ${number}`;
const reason = (error: unknown) => (error instanceof Error ? error.message : String(error));
