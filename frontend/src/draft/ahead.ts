/** What a draft comes to with edits that the server has not confirmed, kept from one key to the next. */
import { apply, type Operation, type Stamp } from "./apply";
import type { Confirmed } from "./confirmed";
import type { Pending } from "./storage";
import type { Tree } from "./tree";

type Inverses = Map<string, readonly Operation[]>;

export class Ahead {
  tree: Tree;
  private readonly from: Tree;
  private readonly inverses: Inverses;
  private readonly done: { one: Pending; operations: Pending["operations"] }[] = [];

  constructor(
    private readonly confirmed: Confirmed,
    private readonly stamp: (one: Pending) => Stamp,
  ) {
    this.from = confirmed.tree;
    this.tree = confirmed.tree;
    this.inverses = new Map(confirmed.inverses);
  }

  /** Whether it goes on from what is confirmed now, with no other edits than the first of these. */
  isOf(confirmed: Confirmed, edits: readonly Pending[]): boolean {
    if (confirmed !== this.confirmed || confirmed.tree !== this.from || this.done.length > edits.length) return false;
    return this.done.every(({ one, operations }, at) => edits[at] === one && one.operations === operations);
  }

  /** Do those that are not done yet. */
  goOn(edits: readonly Pending[]): void {
    for (const one of edits.slice(this.done.length)) {
      const made = this.applied(one);
      this.done.push({ one, operations: one.operations });
      if (!made) continue;
      this.inverses.set(one.group, [...made.inverse, ...(this.inverses.get(one.group) ?? [])]);
      this.tree = made.tree;
    }
  }

  /** The same with one edit more, which may still change. */
  with(last: Pending): Tree {
    return this.applied(last)?.tree ?? this.tree;
  }

  private applied(one: Pending) {
    const operations = one.operations ?? (one.undo ? this.inverses.get(one.undo) : undefined);
    return operations && apply(this.tree, operations, this.stamp(one), one.undo !== undefined);
  }
}
