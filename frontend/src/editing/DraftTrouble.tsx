import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../api/me";
import type { Conflict, Operation } from "../draft/apply";
import type { Draft } from "../draft/draft";
import type { DraftState } from "../draft/state";
import type { Pending } from "../draft/storage";
import type { Tree } from "../draft/tree";
import { AlertStrip } from "../ui/AlertStrip";
import { plural } from "../ui/format";
import { fieldInWords, placeInWords, valueInWords } from "./places";
import { unsentInWords } from "./SaveState";

interface TroubleProps {
  draft: Draft;
  now: DraftState;
}

/** What waits for somebody: edits that do not get through, those that were not taken, and what two people wish. */
export const DraftTrouble = ({ draft, now }: TroubleProps) => (
  <>
    {now.held !== undefined && (
      <AlertStrip
        actions={
          now.waiting > 0 && (
            <button type="button" className="button" onClick={draft.sendNow}>
              Send now
            </button>
          )
        }
      >
        {now.waiting > 0 ? `${unsentInWords(now.waiting)}: ` : ""}
        {now.held}
      </AlertStrip>
    )}
    {now.refused.map((one) => (
      <Refused key={`${one.client} ${one.number}`} one={one} onForget={() => draft.forget(one)} />
    ))}
    {now.tree && now.conflicts.length > 0 && <Conflicts draft={draft} tree={now.tree} conflicts={now.conflicts} />}
  </>
);

const Refused = ({ one, onForget }: { one: Pending; onForget: () => void }) => {
  const text = textOf(one.operations);
  return (
    <AlertStrip
      actions={
        <>
          {text && (
            <button type="button" className="button" onClick={() => void navigator.clipboard?.writeText(text)}>
              Copy the text
            </button>
          )}
          <button type="button" className="button" data-tone="quiet" onClick={onForget}>
            Leave it out
          </button>
        </>
      }
    >
      <p>
        Not taken: {one.says}. {one.refused}
      </p>
      {text && <p className="max-h-24 overflow-auto whitespace-pre-wrap text-dense text-faint">{text}</p>}
    </AlertStrip>
  );
};

/** Every text that operations hold, to be read and copied. */
function textOf(operations: readonly Operation[] | undefined): string {
  const texts = operations?.flatMap((one) => {
    if (one.op === "set") return typeof one.value === "string" ? [one.value] : [];
    return one.op === "insert" ? textsIn(one.item) : [];
  });
  return (texts ?? []).filter(Boolean).join("\n");
}

const MARKS = new Set(["key", "put", "step", "kind", "layer", "when"]);

function textsIn(value: unknown): string[] {
  if (typeof value === "string") return [value];
  if (typeof value !== "object" || value === null) return [];
  return Object.entries(value).flatMap(([name, inner]) => (MARKS.has(name) ? [] : textsIn(inner)));
}

interface ConflictsProps {
  draft: Draft;
  tree: Tree;
  conflicts: readonly Conflict[];
}

/** Where two people wished different things: both are kept until somebody settles it. */
const Conflicts = ({ draft, tree, conflicts }: ConflictsProps) => {
  const me = useQuery(meQuery).data;
  const isMe = (person: number | undefined) => person !== undefined && person === me?.person?.id;
  const nameOf = (person: number | undefined) => me?.people.find(({ id }) => id === person)?.name ?? "somebody";
  return (
    <section
      aria-label="To be settled"
      className="max-h-56 shrink-0 overflow-auto border-brass border-b-2 bg-sheet px-6 py-2 max-md:px-4"
    >
      <h2 className="font-semibold">{plural(conflicts.length, "thing")} to be settled</h2>
      <ul>
        {conflicts.map((one) => (
          <li
            key={one.key}
            className="flex flex-wrap items-start gap-x-3 gap-y-1 border-rule border-t py-1.5 text-dense"
          >
            <div className="min-w-0 flex-1 basis-72">
              <p className="font-semibold">{placeInWords(tree, one.item)}</p>
              <Says conflict={one} tree={tree} nameOf={(who) => (isMe(who) ? "you" : nameOf(who))} />
            </div>
            {offersMine(one, tree) && (
              <button type="button" className="button" onClick={() => draft.keepMine(one)}>
                {one.why === "taken out"
                  ? "Bring it back"
                  : one.why === "changed" && one.path.length > 0
                    ? `Take ${isMe(one.who) ? "yours" : `${nameOf(one.who)}’s`}`
                    : "Do it all the same"}
              </button>
            )}
            <button type="button" className="button" data-tone="quiet" onClick={() => draft.takeTheirs(one)}>
              Leave it as it is
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
};

/** Where something can be done of what was wished. */
function offersMine(conflict: Conflict, tree: Tree): boolean {
  if (conflict.why === "taken out") return true;
  if (!tree.items.has(conflict.item)) return false;
  return conflict.why === "changed" || conflict.why === "moved";
}

interface SaysProps {
  conflict: Conflict;
  tree: Tree;
  nameOf: (person: number | undefined) => string;
}

const Says = ({ conflict, tree, nameOf }: SaysProps) => {
  const { why, who, by, path, item, mine } = conflict;
  const mover = by === undefined || by === who ? "" : ` by ${nameOf(by)}`;
  if (why === "changed" && path.length > 0) {
    const there = tree.items.has(item) ? tree.value(item, path) : null;
    return (
      <dl className="grid grid-cols-[auto_1fr] gap-x-3">
        <dt className="text-faint">{fieldInWords(path)} now</dt>
        <dd className="whitespace-pre-wrap">{valueInWords(there)}</dd>
        <dt className="text-faint">{capital(nameOf(who))} wrote</dt>
        <dd className="whitespace-pre-wrap">{valueInWords(mine)}</dd>
      </dl>
    );
  }
  const wished = WISHES[(mine as Operation | undefined)?.op ?? "set"];
  const text = textOf(mine && typeof mine === "object" ? [mine as Operation] : undefined);
  return (
    <>
      <p>
        {capital(nameOf(who))} {wished}; {REASONS[why](mover)}
      </p>
      {text && <p className="whitespace-pre-wrap text-faint">{text}</p>}
    </>
  );
};

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

const WISHES: Record<Operation["op"], string> = {
  set: "wrote here",
  insert: "put something in here",
  move: "moved this",
  remove: "took this out",
  restore: "put this back",
  drop: "took this out",
};

const REASONS: Record<Conflict["why"], (mover: string) => string> = {
  changed: (mover) => `it was changed meanwhile${mover}`,
  moved: (mover) => `it was moved elsewhere meanwhile${mover}`,
  hidden: (mover) => `the place was taken out meanwhile${mover}`,
  ring: () => "it would have come to stand within itself",
  unknown: () => "what it was about is no longer here",
  "taken out": (mover) => `it is taken out${mover}`,
};
