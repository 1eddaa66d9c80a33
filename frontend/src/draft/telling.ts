/** Who is told that a draft has changed: its fields with every key, whole pages when the typing rests. */

import { pointer } from "../ui/pointer";

/** A page is drawn anew when nothing was typed for so long, or at the latest after so long. */
const RESTS_MS = 250;
const UNTOLD_MS = 4000;

type Listener = () => void;

export class Telling {
  private readonly fields = new Set<Listener>();
  private readonly pages = new Set<Listener>();
  /** Since when pages have not been told of what is typed. */
  private untoldSince: number | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;

  get hasListeners(): boolean {
    return this.fields.size + this.pages.size > 0;
  }

  addField = (listener: Listener): Listener => added(this.fields, listener);

  addPage = (listener: Listener): Listener => added(this.pages, listener);

  all(): void {
    tell(this.fields);
    this.allPages();
  }

  /** Fields now, pages when it rests. */
  quietly(): void {
    tell(this.fields);
    const now = Date.now();
    this.untoldSince ??= now;
    clearTimeout(this.resting);
    this.resting = setTimeout(this.allPages, Math.min(RESTS_MS, Math.max(0, this.untoldSince + UNTOLD_MS - now)));
  }

  /** Pages that have not been told yet are, now. */
  catchUp(): void {
    if (this.untoldSince !== undefined) this.allPages();
  }

  private allPages = (): void => pointer.whenUp(this.nowAllPages);

  private nowAllPages = (): void => {
    clearTimeout(this.resting);
    this.untoldSince = undefined;
    tell(this.pages);
  };
}

function added(listeners: Set<Listener>, listener: Listener): Listener {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

function tell(listeners: Iterable<Listener>): void {
  for (const listener of listeners) listener();
}
