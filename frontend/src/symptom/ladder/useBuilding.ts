/** What keys and presses do to rungs while a ladder is built: new ones, rails, marks, out. */

import { useEffect, useState } from "react";
import type { Operation } from "../../draft/apply";
import type { Draft } from "../../draft/draft";
import { refOf, titleOf } from "../../draft/items";
import { newKey } from "../../draft/keys";
import type { Deed } from "../../draft/storage";
import type { Tree } from "../../draft/tree";
import { type ListPlace, shifted, stepOf } from "../../editing/fields/operations";
import { rungsFrom } from "../../editing/quick/build";
import type { Taken } from "../../editing/quick/OtherSteps";
import type { QuickStep } from "../../editing/quick/queries";
import { readLine, typedTitle, unreadLines } from "../../editing/quick/reading";
import { moveFocus } from "../../ui/focus";
import { plural } from "../../ui/format";
import type { KeyName } from "../../ui/keys";
import { say } from "../../ui/say";
import { above, intoRail, listPlaceOf, MAIN, newRung, outOfRail, rungFor, takenOut } from "./building";
import { type Block, keysInOrder } from "./rungs";

interface Around {
  draft: Draft;
  tree: Tree;
  playbookId: string;
  blocks: readonly Block[];
  /** Choose a rung and give it the keyboard. */
  go: (key: string | undefined) => void;
}

export function useBuilding({ draft, tree, playbookId, blocks, go }: Around) {
  const [below, setBelow] = useState<readonly string[]>([]);
  const [editing, setEditing] = useState<string>();
  const [picked, setPicked] = useState<ReadonlySet<string>>(NONE);
  const [railing, setRailing] = useState<{ keys: string[]; host: string }>();
  const [list, setList] = useState<string>();
  const order = keysInOrder(blocks);
  // Lines that were typed and not read before the page was loaded anew.
  useEffect(() => {
    for (const line of unreadLines(playbookId)) void readLine(draft, line);
  }, [draft, playbookId]);
  /** A step from the library stands there only when the server has put it in: until then the line stays where it was. */
  const adding = below.findLast((key) => order.includes(key));
  const titleAt = (key: string) => titleOf(stepOf(tree, tree.item(key)));

  /** A rung from a typed line: it stands there at once by what was typed, and says the rest when that is read. */
  const take = (taken: Taken, at: ListPlace, after: string | null | undefined): string | undefined => {
    const group = newKey() + newKey();
    if ("step" in taken) {
      const step = tree.item(taken.step);
      const built = rungFor(tree, refOf(step), at, after);
      return draft.do(built.operations, `“${titleOf(step)}” put in`, group) ? built.rung : undefined;
    }
    if ("library" in taken) {
      const rung = newKey();
      const { parent, path: list } = at;
      const last = after === undefined ? (tree.children(parent, list).at(-1)?.key ?? null) : after;
      const deed: Deed = { kind: "library-step", step: taken.library, rung, parent, list: [...list], after: last };
      return draft.ask(deed, `“${taken.title}” put in`) ? rung : undefined;
    }
    const title = typedTitle(taken.text);
    const built = newRung(tree, { title }, at, after);
    if (!draft.do(built.operations, `“${title}” put in`, group)) return undefined;
    void readLine(draft, { playbookId, text: taken.text, rung: built.rung });
    return built.rung;
  };

  const intoRailOf = (keys: readonly string[], host: string, name: string | undefined) => {
    const operations: Operation[] = [];
    let opened = name;
    for (const key of keys) {
      const made = intoRail(tree, key, host, opened);
      const finding = made.find((one) => one.op === "insert");
      if (finding?.op === "insert") opened = finding.item.key;
      operations.push(...made);
    }
    const says = keys.length === 1 ? `“${titleAt(keys[0] ?? "")}” put into a side rail` : "Put into a side rail";
    if (draft.do(operations, says)) {
      say(says);
      setPicked(NONE);
      go(keys[0]);
    }
    setRailing(undefined);
  };

  /** Hang rungs on another one: where it has several findings, or none, it is asked which opens the rail. */
  const putOnRail = (keys: readonly string[], host: string) => {
    const step = stepOf(tree, tree.item(host));
    const findings = step ? tree.shown(step.key, ["findings"]) : [];
    if (findings.length === 1 || (findings.length === 0 && step?.kind === "check")) {
      intoRailOf(keys, host, findings[0]?.key);
    } else setRailing({ keys: [...keys], host });
  };

  const askRail = (keys: readonly string[]) => {
    const [first] = keys;
    const host = first === undefined ? undefined : hostFor(tree, first);
    if (host) putOnRail(keys, host);
    else say("There is no rung above it to hang a side rail on");
  };

  const takeOut = (key: string) => {
    const next = order[order.indexOf(key) + 1] ?? order[order.indexOf(key) - 1];
    const says = `“${titleAt(key)}” taken out`;
    if (draft.do(takenOut(tree, [key]), says)) {
      say(says);
      go(next);
    }
  };

  const act = (key: string, name: KeyName) => {
    if (name === "add-rung") setBelow([key]);
    else if (name === "edit-rung") setEditing(key);
    else if (name === "when-rung") moveFocus({ field: "when" });
    else if (name === "note-rung") moveFocus({ field: "note" });
    else if (name === "mark-rung") setPicked(toggled(picked, key));
    else if (name === "into-rail") askRail([key]);
    else if (name === "out-of-rail") {
      const operations = outOfRail(tree, key);
      if (operations.length > 0 && draft.do(operations, `“${titleAt(key)}” taken out of its rail`)) go(key);
    } else if (name === "take-out-rung") takeOut(key);
  };

  const titled = (key: string, isBack: boolean) => {
    setEditing((now) => (now === key ? undefined : now));
    if (isBack) go(key);
  };

  /** A rung on a rail goes up and down there. */
  const moveOnRail = (key: string, by: number) => {
    const move = shifted(tree, key, by);
    if (move && draft.do([move], `“${titleAt(key)}” moved`)) go(key);
  };

  const takeList = (lines: readonly QuickStep[]) => {
    const operations = rungsFrom(tree, lines, MAIN);
    const says = `${plural(lines.length, "step")} put in`;
    if (draft.do(operations, says)) {
      say(says);
      setList(undefined);
    }
  };

  return {
    adding,
    editing,
    picked,
    railing,
    list,
    act,
    titled,
    moveOnRail,
    askRail,
    putOnRail,
    takeList,
    setList,
    unpick: () => setPicked(NONE),
    closeRail: () => setRailing(undefined),
    chooseRail: (name: string | undefined) => railing && intoRailOf(railing.keys, railing.host, name),
    /** What is typed below a rung goes in there, and the next one can be typed below it. */
    takeBelow: (taken: Taken, key: string) => {
      const made = take(taken, listPlaceOf(tree, key), below.at(-1) ?? key);
      if (made) setBelow([...below, made]);
    },
    takeAtFoot: (taken: Taken) => take(taken, MAIN, undefined),
    leaveAdding: () => {
      const key = adding;
      setBelow([]);
      return key;
    },
  };
}

const NONE: ReadonlySet<string> = new Set();

function toggled(set: ReadonlySet<string>, key: string): ReadonlySet<string> {
  const made = new Set(set);
  if (!made.delete(key)) made.add(key);
  return made;
}

/** The rung on which a rail for this one would hang: the one above it, in the same list. */
const hostFor = (tree: Tree, key: string): string | undefined => above(tree, key)?.key;
