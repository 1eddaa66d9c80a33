/** The one table of keys: every key of the product is bound by its name here, and the list of keys is made from it. */

const PLACES = ["Everywhere", "Ladder", "Guided case"] as const;
type Place = (typeof PLACES)[number];

interface Bound {
  place: Place;
  /** As the browser names them: small letters, `mod+` for Ctrl or Cmd, `alt+`. */
  keys: readonly string[];
  says: string;
  /** How they are listed, where that is shorter than one by one; absent: as they are. */
  shown?: string;
  /** A key that is held goes on doing it. */
  repeats?: boolean;
  /** It answers what is asked, and what is asked next is something else: a second press in haste is not meant. */
  answers?: boolean;
  /** It works while somebody types, too. */
  typing?: boolean;
  /** Bound by the element that has the focus, not by the page. */
  within?: string;
}

const numbered = (n: number): Bound => ({
  place: "Guided case",
  keys: [String(n)],
  says: "answer",
  shown: "1 … 8",
  answers: true,
});
const harm = (key: string, to: string): Bound => ({
  place: "Guided case",
  keys: [key],
  says: `mark harm to ${to}, before you answer`,
});

export const KEYS = {
  find: { place: "Everywhere", keys: ["/"], says: "find a symptom, a step, a unit or a case" },
  start: { place: "Everywhere", keys: ["s"], says: "start a case" },
  keys: { place: "Everywhere", keys: ["?"], says: "this list" },
  "next-rung": {
    place: "Ladder",
    keys: ["arrowdown", "arrowup"],
    says: "go from rung to rung",
    repeats: true,
    within: "rung",
  },
  "move-rung": {
    place: "Ladder",
    keys: ["alt+arrowdown", "alt+arrowup"],
    says: "move the rung up or down",
    within: "rung",
  },
  "add-rung": { place: "Ladder", keys: ["enter"], says: "a new rung below this one", within: "rung" },
  "edit-rung": { place: "Ladder", keys: ["e"], says: "edit the title", within: "rung" },
  "when-rung": { place: "Ladder", keys: ["w"], says: "edit the condition", within: "rung" },
  "note-rung": { place: "Ladder", keys: ["n"], says: "say why it stands here", within: "rung" },
  "into-rail": { place: "Ladder", keys: ["r"], says: "put it into a side rail of the rung above", within: "rung" },
  "out-of-rail": { place: "Ladder", keys: ["shift+r"], says: "take it out of its side rail", within: "rung" },
  "mark-rung": { place: "Ladder", keys: ["m"], says: "mark it, to do something with several", within: "rung" },
  unmark: { place: "Ladder", keys: ["escape"], says: "unmark what is marked" },
  "take-out-rung": { place: "Ladder", keys: ["delete"], says: "take the rung out", within: "rung" },
  undo: { place: "Ladder", keys: ["mod+z"], says: "undo" },
  redo: { place: "Ladder", keys: ["mod+shift+z", "mod+y"], says: "redo" },
  "answer-1": numbered(1),
  "answer-2": numbered(2),
  "answer-3": numbered(3),
  "answer-4": numbered(4),
  "answer-5": numbered(5),
  "answer-6": numbered(6),
  "answer-7": numbered(7),
  "answer-8": numbered(8),
  rarer: { place: "Guided case", keys: ["9"], says: "the rarer answers" },
  "answer-y": {
    place: "Guided case",
    keys: ["y"],
    says: "a guard question, or the caller's consent",
    shown: "y n",
    answers: true,
  },
  "answer-n": {
    place: "Guided case",
    keys: ["n"],
    says: "a guard question, or the caller's consent",
    shown: "y n",
    answers: true,
  },
  "take-back": { place: "Guided case", keys: ["u"], says: "take back the last answer", answers: true },
  "cannot-tell": {
    place: "Guided case",
    keys: ["0"],
    says: "nobody can tell what is asked",
    answers: true,
  },
  copy: { place: "Guided case", keys: ["c"], says: "copy the next command" },
  spell: { place: "Guided case", keys: ["a"], says: "show commands spelled aloud" },
  "harm-data": harm("x", "data"),
  "harm-service": harm("v", "the service"),
  "harm-equipment": harm("b", "equipment"),
  "harm-security": harm("g", "a protection"),
  "harm-injury": harm("f", "somebody"),
  tried: { place: "Guided case", keys: ["t"], says: "note what was tried before the call" },
  "log-to-notice": { place: "Everywhere", keys: ["alt+k"], says: "log the caller to what is known now", typing: true },
  "text-wrong": { place: "Guided case", keys: ["w"], says: "tell the lead that a text is wrong" },
  later: { place: "Guided case", keys: ["j"], says: "take a later rung now, out of turn" },
  "off-ladder": { place: "Guided case", keys: ["e"], says: "say that something else was done, off the ladder" },
  "take-over": { place: "Guided case", keys: ["k"], says: "take over a case that somebody else has" },
  "take-up": { place: "Guided case", keys: ["r"], says: "take up a case that waits" },
  "next-case": { place: "Guided case", keys: ["o"], says: "go to your next open case" },
  note: { place: "Guided case", keys: ["m"], says: "write a note" },
  pause: { place: "Guided case", keys: ["p"], says: "let the case wait" },
  end: { place: "Guided case", keys: ["h"], says: "hand off or close early" },
} as const satisfies Record<string, Bound>;

export type KeyName = keyof typeof KEYS;

const TABLE: Record<KeyName, Bound> = KEYS;

/** How a key is printed beside what it does. */
export const printed = (name: KeyName): string => inPrint(TABLE[name].keys[0] ?? "");

/** What an event asks for, in the words of the table. */
export function pressed(event: Pick<KeyboardEvent, "key" | "altKey" | "ctrlKey" | "metaKey" | "shiftKey">): string {
  const modified = event.ctrlKey || event.metaKey;
  const shifted = modified && event.shiftKey;
  return `${modified ? "mod+" : ""}${shifted ? "shift+" : ""}${event.altKey ? "alt+" : ""}${event.key.toLowerCase()}`;
}

/** What a key does to the rung that has the focus. */
export function rungKey(event: Parameters<typeof pressed>[0]): KeyName | undefined {
  const key = event.shiftKey && event.key.length === 1 ? `shift+${pressed(event)}` : pressed(event);
  return names().find((name) => TABLE[name].within === "rung" && TABLE[name].keys.includes(key));
}

/** The name under which a key is bound at a place, or everywhere. */
export const nameOfKey = (key: string, bound: (name: KeyName) => boolean): KeyName | undefined =>
  names().find((name) => TABLE[name].keys.includes(key) && bound(name));

export const isForTyping = (name: KeyName): boolean => TABLE[name].typing ?? false;
export const isHeld = (name: KeyName): boolean => TABLE[name].repeats ?? false;
export const isAnswer = (name: KeyName): boolean => TABLE[name].answers ?? false;

/** The name of the key that gives an answer, as the server says it. */
export const answerKey = (key: string): KeyName | undefined =>
  key === "0" ? "cannot-tell" : names().find((name) => name === `answer-${key}`);

/** The key that marks harm of a kind, the same at every step. */
export const harmKey = (kind: string): KeyName | undefined => names().find((name) => name === `harm-${kind}`);

/** Keys that mean two things where one may press them: none, or the product is wrong. */
export function doubles(table: Record<string, Bound> = TABLE): string[] {
  const seen = new Map<string, string>();
  const found: string[] = [];
  for (const place of PLACES.slice(1)) {
    seen.clear();
    for (const [name, bound] of Object.entries(table)) {
      if (bound.place !== place && bound.place !== "Everywhere") continue;
      for (const key of bound.keys) {
        if (seen.has(key)) found.push(`${key}: ${seen.get(key)} and ${name}`);
        seen.set(key, name);
      }
    }
  }
  return found;
}

/** The list of keys, place by place, each meaning once. */
export function listed(): { place: Place; keys: { keys: string; says: string }[] }[] {
  return PLACES.map((place) => {
    const lines = new Map<string, string>();
    for (const name of names()) {
      const { place: mine, says, shown, keys } = TABLE[name];
      if (mine === place) lines.set(shown ?? keys.map(inPrint).join("   "), says);
    }
    return { place, keys: [...lines].map(([keys, says]) => ({ keys, says })) };
  });
}

const names = () => Object.keys(TABLE) as KeyName[];

const WORDS: Record<string, string> = { mod: "Ctrl", alt: "Alt", shift: "Shift", arrowdown: "↓", arrowup: "↑" };

function inPrint(key: string): string {
  const parts = key.split("+").map((part) => WORDS[part] ?? part);
  return parts.length > 1
    ? parts.map((part) => (part.length === 1 ? part.toUpperCase() : part)).join(" + ")
    : key in WORDS
      ? (WORDS[key] ?? key)
      : key;
}
