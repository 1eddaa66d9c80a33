/** What the server has confirmed of a draft, and how it goes on with what has come since. */

import { apply, type Operation, replayed, type Stamp } from "./apply";
import { formOf } from "./items";
import type { EditView, Flaw, Since } from "./state";
import type { Pending } from "./storage";
import { Tree } from "./tree";

type Waiting = (edit: EditView) => { one: Pending; stamp: Stamp } | undefined;

export class Confirmed {
  constructor(
    public revision: number,
    public tree: Tree,
    /** What takes each group back, as far as this page knows. */
    readonly inverses: Map<string, Operation[]> = new Map(),
  ) {}

  /** Do what follows, in order, and pass over what is known; the edits that were new, or undefined where this page
   * cannot make the tree of the answer and must read it. waiting: an edit of its own that was done as it was sent. */
  heard(answer: Since, waiting: Waiting): EditView[] | undefined {
    if (answer.form && answer.revision >= this.revision) {
      this.tree = new Tree(formOf(answer.form));
      this.revision = answer.revision;
    }
    const heard: EditView[] = [];
    for (const edit of answer.since) {
      if (edit.revision !== this.revision + 1) continue;
      const after = this.after(edit, waiting);
      if (!after) return undefined;
      this.tree = after;
      this.revision = edit.revision;
      heard.push(edit);
    }
    return this.revision < answer.revision ? undefined : heard;
  }

  private after(edit: EditView, waiting: Waiting): Tree | undefined {
    try {
      if (edit.done) return replayed(this.tree, edit.done as unknown as Operation[]);
      const mine = waiting(edit);
      if (!mine?.one.operations) return undefined;
      const { one, stamp } = mine;
      const made = apply(this.tree, mine.one.operations, stamp);
      this.inverses.set(one.group, [...made.inverse, ...(this.inverses.get(one.group) ?? [])]);
      return made.tree;
    } catch {
      return undefined;
    }
  }
}

/** The flaws that stand after an answer. */
export function flawsAfter(known: readonly Flaw[], { form, flaws }: Since): readonly Flaw[] {
  if (form) return flaws.come;
  const changed = new Set([...flaws.gone, ...flaws.come].map(nameOf));
  return [...known.filter((flaw) => !changed.has(nameOf(flaw))), ...flaws.come];
}

const nameOf = ({ key, field, says }: Flaw) => [key, ...field, says].join(" ");
