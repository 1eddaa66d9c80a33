/** Typed lines that stand on the ladder by their words alone until the server has read what else they say. */
import { withRetries } from "../../api/again";
import type { Operation } from "../../draft/apply";
import type { Draft } from "../../draft/draft";
import { use } from "../../draft/drafts";
import { newKey } from "../../draft/keys";
import type { Tree } from "../../draft/tree";
import { windowStorage } from "../../ui/stored";
import { stepOf } from "../fields/operations";
import { causesOf, saidOf, stepFrom } from "./build";
import { type QuickStep, readQuick } from "./queries";

export interface TypedLine {
  playbookId: string;
  text: string;
  /** The rung that was made of it. */
  rung: string;
}

const NAME = "mild-ladder-lines";
const MOST_TITLE = 300;
/** So often a line is read that fails. */
const MOST_TRIES = 6;
/** What a rung begins with that is made of a typed line. */
const KIND = "fix";
const underWay = new Set<string>();

/** The title that a line stands under until it is read. */
export const typedTitle = (text: string): string => text.slice(0, MOST_TITLE);

/** Lines of a playbook that this window has not read yet, such as before it was loaded anew. */
export const unreadLines = (playbookId: string): TypedLine[] =>
  lines().filter((one) => one.playbookId === playbookId && !underWay.has(one.rung));

/** Put upon a rung's step what its line says, once the server has read it. A slow line loses nothing, and nothing that
 * was changed meanwhile: what is read is an edit of its own, made upon the line as it was typed. */
export async function readLine(draft: Draft, line: TypedLine): Promise<void> {
  keep([...lines().filter(({ rung }) => rung !== line.rung), line]);
  underWay.add(line.rung);
  const release = use(draft);
  const quick = await withRetries(async () => (await readQuick(line.text, line.playbookId)).lines[0], MOST_TRIES);
  keep(lines().filter(({ rung }) => rung !== line.rung));
  underWay.delete(line.rung);
  release();
  const { tree } = draft.state();
  if (!quick || quick.wrong || !tree) return;
  draft.do(operationsOf(tree, line, quick), `“${quick.title}” read`, newKey() + newKey());
}

/** What a line says beyond its title, put upon the step of its rung; what somebody has changed there stays. */
export function operationsOf(tree: Tree, { text, rung }: TypedLine, quick: QuickStep): Operation[] {
  const step = tree.items.has(rung) ? stepOf(tree, tree.item(rung)) : undefined;
  if (!step) return [];
  const causes = causesOf(tree);
  const typed: Record<string, unknown> = { title: typedTitle(text), kind: KIND };
  const said = saidOf(tree, step.key, stepFrom(tree, quick, causes)).flatMap((one): Operation[] => {
    if (one.op !== "set") return [one];
    const was = one.path.length === 1 ? (typed[one.path[0] ?? ""] ?? null) : null;
    return one.was !== was || was === one.value ? [] : [{ ...one, was }];
  });
  return [...causes.operations, ...said];
}

function lines(): TypedLine[] {
  try {
    return JSON.parse(windowStorage.getItem(NAME) ?? "[]") as TypedLine[];
  } catch {
    return [];
  }
}

function keep(all: readonly TypedLine[]): void {
  try {
    windowStorage.setItem(NAME, JSON.stringify(all));
  } catch {
    // A full storage still lets it be read now.
  }
}
