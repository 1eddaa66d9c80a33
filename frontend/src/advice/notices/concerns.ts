/** Which notices concern a caller: those of the symptom, of units with what is known of theirs, or of everything. */
import type { Notice } from "./queries";

export interface Caller {
  playbook: string | undefined;
  facts: Readonly<Record<string, string>>;
}

export const isOver = (notice: Pick<Notice, "ended" | "until">, now: number): boolean =>
  notice.ended != null || (notice.until != null && new Date(notice.until).getTime() <= now);

/** Those that hold now and concern the caller. What is not known of the unit yet rules nothing out. */
export const concerning = (notices: readonly Notice[], { playbook, facts }: Caller, now: number): Notice[] =>
  notices.filter(
    (one) =>
      !isOver(one, now) &&
      (one.playbook == null || one.playbook === playbook) &&
      (one.fact == null || !facts[one.fact] || facts[one.fact] === one.value),
  );
