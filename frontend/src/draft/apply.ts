/** Do an edit on a working form: what is done, the inverse of it, and what could not be done, kept as conflicts. The twin
 * of `core/draft/apply.py`; both run the same cases. */
import { alike, CONFLICTS, Editor, type Item, itemsIn, ROOT, type Tree, type Where } from "./tree";

export interface Place {
  parent: string;
  list: readonly string[];
  after?: string | null;
  before?: string | null;
}

export type Operation =
  | { op: "set"; key: string; path: readonly string[]; was?: unknown; value?: unknown }
  | ({ op: "insert"; item: Item } & Place)
  | ({ op: "move"; key: string; was?: string | null; put: string | null } & Place)
  | { op: "remove"; key: string; was?: Record<string, unknown> }
  | { op: "restore"; key: string }
  | { op: "drop"; key: string };

/** Who sends an edit, by number, and when; `client` and `number` name it. */
export interface Stamp {
  client: string;
  number: number;
  who: number;
  at: string;
}

export interface Applied {
  tree: Tree;
  /** To be replayed without checks. */
  done: Operation[];
  /** What undoes that, in order. */
  inverse: Operation[];
  /** Keys of conflicts that were opened or renewed. */
  conflicts: string[];
}

export type Why = "changed" | "moved" | "hidden" | "ring" | "unknown" | "taken out";

export interface Conflict extends Item {
  item: string;
  path: readonly string[];
  mine?: unknown;
  why: Why;
  who: number;
  at: string;
  by?: number;
}

export function apply(form: Item | Tree, operations: readonly Operation[], stamp: Stamp, isUndo = false): Applied {
  const comingBack = operations.flatMap((one) => (isUndo && one.op === "restore" ? [one.key] : []));
  const edit = new Edit(form, stamp, isUndo, new Set(comingBack));
  operations.forEach((operation, index) => {
    edit.do(index, operation);
  });
  return { tree: edit.tree, done: edit.done, inverse: edit.inverse.reverse(), conflicts: [...edit.conflicts] };
}

/** The tree after what was done, which is not checked. */
export function replayed(form: Item | Tree, done: readonly Operation[]): Tree {
  const tree = new Editor(form);
  for (const one of done) {
    if (one.op === "set") tree.set(one.key, one.path, one.value);
    else if (one.op === "insert") tree.insert(whereOf(one), one.item);
    else if (one.op === "move") tree.move(one.key, whereOf(one), one.put);
    else if (one.op === "drop") tree.drop(one.key);
    else tree.markOut(one.key, one.op === "remove");
  }
  return tree;
}

const whereOf = (one: Place): Where => ({ parent: one.parent, list: one.list, after: one.after ?? null });

class Edit {
  readonly tree: Editor;
  readonly done: Operation[] = [];
  readonly inverse: Operation[] = [];
  readonly conflicts = new Set<string>();

  constructor(
    form: Item | Tree,
    private readonly stamp: Stamp,
    private readonly isUndo: boolean,
    /** What an undo puts back further on: moving something there first takes nothing out of sight. */
    private readonly comingBack: ReadonlySet<string>,
  ) {
    this.tree = new Editor(form);
  }

  do(index: number, operation: Operation): void {
    const needed = operation.op === "insert" ? operation.parent : operation.key;
    const { items } = this.tree;
    if (!items.has(needed) || (operation.op === "move" && !items.has(operation.parent))) {
      this.keep(index, operation, needed, "unknown");
    } else if (operation.op !== "insert" && this.isConflict(operation.key)) this.settle(operation);
    else if (operation.op === "set") this.set(index, operation);
    else if (operation.op === "insert") this.insert(index, operation);
    else if (operation.op === "move") this.move(index, operation);
    else if (operation.op === "remove") this.remove(index, operation);
    else if (operation.op === "restore") this.restore(index, operation);
  }

  private set(index: number, operation: Operation & { op: "set" }): void {
    const { key, path, was, value } = operation;
    const there = this.tree.value(key, path);
    if (alike(there, was)) {
      if (!alike(was, value)) this.doSet(key, path, value, there);
      this.tellIfHidden(index, operation, key, path);
      return;
    }
    const goneOnFrom = this.conflictOf(
      key,
      (one) => one.why === "changed" && alike(one.path ?? [], path) && alike(one.mine, was),
    );
    if (goneOnFrom) this.renew(goneOnFrom, value);
    else if (alike(there, value)) this.tellIfHidden(index, operation, key, path);
    else this.keep(index, operation, key, "changed", path, value);
  }

  private insert(index: number, operation: Operation & { op: "insert" }): void {
    const { item } = operation;
    if ([...itemsIn(item)].some(({ key }) => this.tree.items.has(key))) {
      this.keep(index, operation, operation.parent, "unknown");
      return;
    }
    const where = this.place(operation, undefined);
    this.tree.insert(where, item);
    this.done.push({ op: "insert", ...where, item });
    this.inverse.push({ op: "remove", key: item.key, was: this.tree.taken(item.key) });
    this.tellIfHidden(index, operation, item.key);
  }

  private move(index: number, operation: Operation & { op: "move" }): void {
    const { key, parent, list, put } = operation;
    const item = this.tree.item(key);
    const goneOnFrom = this.conflictOf(key, (one) => movesFrom(one, operation.was));
    if (goneOnFrom) this.renew(goneOnFrom, operation);
    else if (!alike(item.put, operation.was)) this.keep(index, operation, key, "moved");
    else if (this.tree.isBelow(parent, key)) this.keep(index, operation, key, "ring");
    else if (!this.tree.inSight(parent, list, this.comingBack)) this.keep(index, operation, key, "hidden");
    else {
      const [old, behind, mark] = [this.tree.after(key), this.tree.before(key), item.put ?? null];
      this.tree.move(key, this.place(operation, key), put);
      this.done.push({ op: "move", key, ...this.tree.after(key), put });
      this.inverse.push({ op: "move", key, was: put, ...old, before: behind, put: mark });
      this.tellIfHidden(index, operation, key);
    }
  }

  private remove(index: number, operation: Operation & { op: "remove" }): void {
    const { key, was = {} } = operation;
    // What is out of sight needs no removing; but what undo takes back must not come into sight with what is above.
    if (this.tree.item(key).out || !(this.isUndo || this.tree.inSight(key))) return;
    const there = this.tree.taken(key);
    const isAsSeen = Object.entries(there).every(([place, value]) => place in was && alike(was[place], value));
    const gone = Object.keys(was).filter((place) => !(place in there));
    if (!isAsSeen || gone.some((place) => this.isShown(place))) this.keep(index, operation, key, "changed");
    else this.doOut(key, true);
  }

  private restore(index: number, operation: Operation & { op: "restore" }): void {
    if (this.tree.item(operation.key).out) this.doOut(operation.key, false);
    this.tellIfHidden(index, operation, operation.key, [], true);
  }

  /** After `after`; if that is no longer in the list, before `before`; else at the end. */
  private place({ parent, list, after, before }: Place, moved: string | undefined): Where {
    const rest = this.tree
      .children(parent, list)
      .map((child) => child.key)
      .filter((key) => key !== moved);
    if (after == null) return { parent, list, after: null };
    if (rest.includes(after)) return { parent, list, after };
    if (before != null && rest.includes(before)) {
      return { parent, list, after: rest[rest.indexOf(before) - 1] ?? null };
    }
    return { parent, list, after: rest[rest.length - 1] ?? null };
  }

  private doSet(key: string, path: readonly string[], value: unknown, there: unknown): void {
    this.tree.set(key, path, value);
    this.done.push({ op: "set", key, path, value: value ?? null });
    this.inverse.push({ op: "set", key, path, was: value ?? null, value: there ?? null });
  }

  private doOut(key: string, isOut: boolean): void {
    this.tree.markOut(key, isOut);
    this.done.push({ op: isOut ? "remove" : "restore", key });
    this.inverse.push(isOut ? { op: "restore", key } : { op: "remove", key, was: this.tree.taken(key) });
  }

  private isShown(place: string): boolean {
    const [key = "", ...path] = place.split(" ");
    if (!this.tree.items.has(key) || !this.tree.inSight(key, path)) return false;
    return path.length === 0 || this.tree.value(key, path) != null;
  }

  // Conflicts

  private isConflict(key: string): boolean {
    const spot = this.tree.spots.get(key);
    return spot?.list.length === 1 && spot.list[0] === CONFLICTS;
  }

  /** About a conflict there are no conflicts: what the settler did not see stays open. */
  private settle(operation: Exclude<Operation, { op: "insert" }>): void {
    const { key } = operation;
    const conflict = this.tree.item(key);
    if (operation.op === "remove") {
      if (!conflict.out && alike(this.tree.taken(key), operation.was ?? {})) this.doOut(key, true);
    } else if (operation.op === "restore") {
      if (conflict.out) this.doOut(key, false);
    } else if (operation.op === "set") {
      const there = this.tree.value(key, operation.path);
      if (alike(there, operation.was) && !alike(there, operation.value)) {
        this.doSet(key, operation.path, operation.value, there);
      }
    }
  }

  private conflictOf(item: string, fits: (one: Conflict) => boolean): Conflict | undefined {
    const all = this.tree.children(ROOT, [CONFLICTS]) as Conflict[];
    return all.find((one) => !one.out && one.item === item && fits(one));
  }

  /** Open the conflict *taken out* for what was done where nobody sees it; there is one an item. */
  private tellIfHidden(
    index: number,
    operation: Operation,
    key: string,
    path: readonly string[] = [],
    isPutBack = false,
  ): void {
    if (this.tree.inSight(key, path) || (this.isUndo && !isPutBack)) return;
    const there = this.conflictOf(key, ({ why }) => why === "taken out");
    if (there) this.renew(there, operation);
    else this.keep(index, operation, key, "taken out", path);
  }

  private renew({ key }: Conflict, mine: unknown): void {
    this.conflicts.add(key);
    for (const [name, value] of Object.entries({ mine, who: this.stamp.who, at: this.stamp.at })) {
      const there = this.tree.value(key, [name]);
      if (!alike(there, value)) this.doSet(key, [name], value, there);
    }
  }

  /** Keep a wish that was not done: of a set the value, else the whole operation. */
  private keep(
    index: number,
    operation: Operation,
    item: string,
    why: Why,
    path: readonly string[] = [],
    ...mine: unknown[]
  ): void {
    const key = `${this.stamp.client}-${this.stamp.number}-${index}`;
    const last = this.tree.children(ROOT, [CONFLICTS]).at(-1)?.key ?? null;
    const wish = mine.length > 0 ? mine[0] : operation;
    const conflict: Conflict = {
      key,
      item,
      path,
      ...(wish != null && { mine: wish }),
      why,
      who: this.stamp.who,
      at: this.stamp.at,
    };
    const where: Where = { parent: ROOT, list: [CONFLICTS], after: last };
    this.conflicts.add(key);
    this.tree.insert(where, conflict);
    this.done.push({ op: "insert", ...where, item: conflict });
    this.inverse.push({ op: "remove", key, was: this.tree.taken(key) });
  }
}

/** Whether a conflict is about a move that was not done and gave the item this mark. */
function movesFrom({ why, mine }: Conflict, was: unknown): boolean {
  const wish = mine as Operation | null | undefined;
  const isMove = (why === "moved" || why === "ring" || why === "hidden") && wish?.op === "move";
  return isMove && was != null && wish.put === was;
}
