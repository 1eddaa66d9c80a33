/** The working form as a tree of items: where each stands, what is in sight, and the five ways to change it. The twin of
 * `core/draft/tree.py`; both run the same cases. A tree is never changed: an editor copies what it touches. */

export interface Item {
  key: string;
  put?: string;
  out?: boolean;
  [name: string]: unknown;
}

export interface Spot {
  parent: string;
  list: readonly string[];
}

export interface Where extends Spot {
  /** The item that it stands behind; null: at the head. */
  after: string | null;
}

export const ROOT = "playbook";
export const CONFLICTS = "conflicts";
/** What a conflict holds is kept as it is: no item of the tree stands in it. */
const SEALED = new Set(["mine", "path"]);
const NOTHING: ReadonlySet<string> = new Set();

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Whether two values are the same as JSON; what is not there is null. */
export function alike(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (one == null || other == null) return one == null && other == null;
  if (Array.isArray(one) && Array.isArray(other)) {
    return one.length === other.length && one.every((value, n) => alike(value, other[n]));
  }
  if (isObject(one) && isObject(other)) {
    const names = Object.keys(one);
    return (
      names.length === Object.keys(other).length &&
      names.every((name) => name in other && alike(one[name], other[name]))
    );
  }
  return false;
}

/** Every list of items that lies in an item itself, with its path. */
export function* listsIn(item: object, path: readonly string[] = []): Generator<[readonly string[], Item[]]> {
  for (const [name, value] of Object.entries(item)) {
    if (SEALED.has(name)) continue;
    if (Array.isArray(value)) yield [[...path, name], value as Item[]];
    else if (isObject(value)) yield* listsIn(value, [...path, name]);
  }
}

/** The item and every item below it. */
export function* itemsIn(item: Item): Generator<Item> {
  const waiting = [item];
  for (let here = waiting.pop(); here; here = waiting.pop()) {
    yield here;
    for (const [, children] of listsIn(here)) waiting.push(...children);
  }
}

function valueAt(item: object, path: readonly string[]): unknown {
  let here: unknown = item;
  for (const name of path) here = isObject(here) ? here[name] : undefined;
  return here;
}

/** A working form to be read. */
export class Tree {
  root: Item;
  readonly items: Map<string, Item>;
  /** Where each item but the root stands. */
  readonly spots: Map<string, Spot>;
  private readonly seen = new Map<string, boolean>();
  private named: Map<string, [string, readonly string[]][]> | undefined;

  /** Made of another tree it holds the same items, without walking through them again. */
  constructor(form: Item | Tree) {
    const before = form instanceof Tree ? form : undefined;
    this.root = before?.root ?? (form as Item);
    this.items = new Map(before?.items);
    this.spots = new Map(before?.spots);
    if (!before) this.enter(this.root);
  }

  protected enter(item: Item): void {
    const waiting = [item];
    for (let here = waiting.pop(); here; here = waiting.pop()) {
      this.items.set(here.key, here);
      for (const [path, children] of listsIn(here)) {
        for (const child of children) {
          this.spots.set(child.key, { parent: here.key, list: path });
          waiting.push(child);
        }
      }
    }
  }

  protected forget(): void {
    this.seen.clear();
    this.named = undefined;
  }

  item(key: string): Item {
    const found = this.items.get(key);
    if (!found) throw new Error(`there is no item ${key}`);
    return found;
  }

  spot(key: string): Spot {
    const found = this.spots.get(key);
    if (!found) throw new Error(`${key} stands nowhere`);
    return found;
  }

  value = (key: string, path: readonly string[]): unknown => valueAt(this.item(key), path);

  children(parent: string, path: readonly string[]): Item[] {
    const found = this.value(parent, path);
    return Array.isArray(found) ? (found as Item[]) : [];
  }

  /** The items of a list that are in sight. */
  shown = (parent: string, path: readonly string[]): Item[] =>
    this.children(parent, path).filter(({ key }) => this.inSight(key));

  /** Whether an item, or its field, is shown: nothing above it, and nothing that it is named after, is out. `back`:
   * items that count as put back already. */
  inSight(key: string, path: readonly string[] = [], back: ReadonlySet<string> = NOTHING): boolean {
    return this.areSeen([key, ...path], back, back.size ? new Map() : this.seen);
  }

  private areSeen(names: readonly string[], back: ReadonlySet<string>, seen: Map<string, boolean>): boolean {
    return names.every((name) => !this.items.has(name) || this.isSeen(name, back, seen));
  }

  private isSeen(key: string, back: ReadonlySet<string>, seen: Map<string, boolean>): boolean {
    const known = seen.get(key);
    if (known !== undefined) return known;
    seen.set(key, true);
    const spot = this.spots.get(key);
    const isOut = this.item(key).out && !back.has(key);
    const made = !isOut && (!spot || this.areSeen([spot.parent, ...spot.list], back, seen));
    seen.set(key, made);
    return made;
  }

  isBelow(key: string, above: string): boolean {
    for (let here: string | undefined = key; here !== undefined; here = this.spots.get(here)?.parent) {
      if (here === above) return true;
    }
    return false;
  }

  /** All that would go out of sight with an item, each by its place with what it says now. */
  taken(key: string): Record<string, unknown> {
    const found: Record<string, unknown> = {};
    const waiting = [key];
    for (let here = waiting.pop(); here !== undefined; here = waiting.pop()) {
      if (here in found || !this.inSight(here)) continue;
      const spot = this.spots.get(here);
      const item = this.item(here);
      found[here] = { at: spot ? [spot.parent, ...spot.list] : [], ...this.own(item) };
      for (const [, children] of listsIn(item)) waiting.push(...children.map((child) => child.key));
      for (const [owner, path] of this.namedAfter().get(here) ?? []) {
        const value = this.value(owner, path);
        if (Array.isArray(value)) waiting.push(...(value as Item[]).map((child) => child.key));
        else if (this.inSight(owner)) found[[owner, ...path].join(" ")] = value;
      }
    }
    return found;
  }

  /** For each item, the fields and lists that are named after it, with their owner. */
  private namedAfter(): Map<string, [string, readonly string[]][]> {
    if (this.named) return this.named;
    this.named = new Map();
    for (const [key, item] of this.items) {
      for (const path of namedPaths(item)) {
        const name = path[path.length - 1] as string;
        if (!this.items.has(name)) continue;
        const there = this.named.get(name) ?? [];
        there.push([key, path]);
        this.named.set(name, there);
      }
    }
    return this.named;
  }

  /** What an item itself says: no lists, no marks, nothing under the name of what is out of sight. */
  private own(item: Item): Record<string, unknown> {
    const flat = Object.entries(item).filter(
      ([name, value]) => name !== "key" && (SEALED.has(name) || typeof value !== "object" || value === null),
    );
    return { ...Object.fromEntries(flat), ...this.maps(item) };
  }

  private maps(item: object, path: readonly string[] = []): Record<string, unknown> {
    let found: Record<string, unknown> = {};
    for (const [name, value] of Object.entries(item)) {
      if (SEALED.has(name) || !isObject(value)) continue;
      for (const [inner, said] of Object.entries(value)) {
        if (Array.isArray(said) || (this.items.has(inner) && !this.inSight(inner))) continue;
        if (isObject(said)) found = { ...found, ...this.maps({ [inner]: said }, [...path, name]) };
        else found[[...path, name, inner].join(" ")] = said;
      }
    }
    return found;
  }
}

function* namedPaths(item: object, path: readonly string[] = []): Generator<readonly string[]> {
  for (const [name, value] of Object.entries(item)) {
    if (SEALED.has(name)) continue;
    if (path.length > 0) yield [...path, name];
    if (isObject(value)) yield* namedPaths(value, [...path, name]);
  }
}

/** A tree under change; the one that it began with stays as it was. `root` is the new one. */
export class Editor extends Tree {
  private readonly ours = new Set<string>();

  /** Give a field a value; null takes it away, with objects that are empty then. */
  set(key: string, path: readonly string[], value: unknown): void {
    const trail: Record<string, unknown>[] = [this.ownCopy(key)];
    for (const name of path.slice(0, -1)) {
      const above = trail[trail.length - 1] as Record<string, unknown>;
      const below = above[name];
      const made = isObject(below) ? { ...below } : {};
      above[name] = made;
      trail.push(made);
    }
    const last = path[path.length - 1] as string;
    const holder = trail[trail.length - 1] as Record<string, unknown>;
    if (value == null) delete holder[last];
    else holder[last] = value;
    for (let n = path.length - 2; n >= 0; n--) {
      const above = trail[n] as Record<string, unknown>;
      const name = path[n] as string;
      if (Object.keys(above[name] as object).length === 0) delete above[name];
    }
    this.forget();
  }

  insert(where: Where, item: Item): void {
    const children = this.ownList(where.parent, where.list);
    children.splice(placeIn(children, where.after), 0, item);
    this.spots.set(item.key, { parent: where.parent, list: where.list });
    this.enter(item);
    this.forget();
  }

  move(key: string, where: Where, put: string | null | undefined): void {
    const item = this.ownCopy(key);
    const spot = this.spot(key);
    const old = this.ownList(spot.parent, spot.list);
    old.splice(indexIn(old, key), 1);
    delete item.put;
    if (put != null) item.put = put;
    const children = this.ownList(where.parent, where.list);
    children.splice(placeIn(children, where.after), 0, item);
    this.spots.set(key, { parent: where.parent, list: where.list });
    this.forget();
  }

  markOut(key: string, isOut: boolean): void {
    const item = this.ownCopy(key);
    delete item.out;
    if (isOut) item.out = true;
    this.forget();
  }

  drop(key: string): void {
    const spot = this.spot(key);
    const children = this.ownList(spot.parent, spot.list);
    children.splice(indexIn(children, key), 1);
    for (const below of [...itemsIn(this.item(key))]) {
      this.items.delete(below.key);
      this.spots.delete(below.key);
    }
    this.forget();
  }

  /** Where an item stands. */
  after(key: string): Where {
    const spot = this.spot(key);
    const children = this.children(spot.parent, spot.list);
    return { ...spot, after: children[indexIn(children, key) - 1]?.key ?? null };
  }

  /** The item behind this one in its list. */
  before(key: string): string | null {
    const spot = this.spot(key);
    const children = this.children(spot.parent, spot.list);
    return children[indexIn(children, key) + 1]?.key ?? null;
  }

  private ownCopy(key: string): Item {
    if (this.ours.has(key)) return this.item(key);
    const copy = { ...this.item(key) };
    this.items.set(key, copy);
    this.ours.add(key);
    if (key === ROOT) this.root = copy;
    else {
      const spot = this.spot(key);
      const children = this.ownList(spot.parent, spot.list);
      children[indexIn(children, key)] = copy;
    }
    return copy;
  }

  private ownList(parent: string, path: readonly string[]): Item[] {
    let here: Record<string, unknown> = this.ownCopy(parent);
    for (const name of path.slice(0, -1)) {
      const below = here[name];
      const made = isObject(below) ? { ...below } : {};
      here[name] = made;
      here = made;
    }
    const last = path[path.length - 1] as string;
    const found = here[last];
    const made = Array.isArray(found) ? ([...found] as Item[]) : [];
    here[last] = made;
    return made;
  }
}

const indexIn = (children: readonly Item[], key: string) => children.findIndex((child) => child.key === key);
const placeIn = (children: readonly Item[], after: string | null) =>
  after === null ? 0 : indexIn(children, after) + 1;
