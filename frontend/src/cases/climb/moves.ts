/** What a move is called on the screen, so that one that waits or was refused can be told from another. */
import type { ClimbView, Move } from "../../api/types";

const LONGEST = 80;

export function moveInWords(move: Move, view: ClimbView): string {
  switch (move.kind) {
    case "note":
      return `the note “${shortened(move.text)}”`;
    case "tried-before":
      return `tried before: ${move.called ?? view.untried.find(({ id }) => id === move.step)?.title ?? "a step"}`;
    case "sign":
      return `the sign “${shortened(move.sign)}”: ${move.seen ? SEEN[move.seen] : "nobody looked"}`;
    case "take-back":
      return "taking back the last answer";
    case "pause":
      return "letting the case wait";
    case "taken-over":
      return "taking the case over";
    case "out-of-turn":
      return `a later rung: ${view.later.find(({ path }) => path === move.path)?.title ?? "a step"}`;
    case "off-ladder":
      return `off the ladder: “${shortened(move.called)}”`;
    case "end":
      if (move.notice != null) return "the caller, logged to what is known now";
      return `the end of the case: ${ENDS[move.end] ?? (move.sent_on ? "sent on" : "handed off")}`;
    case "fact":
      return `the value “${shortened(move.value ?? "not known")}”`;
    case "answer":
      if (move.reading != null) return `the reading ${move.reading}`;
  }
  const given = view.answers.find((answer) => isLike(answer.move, move));
  return given ? `the answer “${given.label}”` : "an answer";
}

const SEEN = { yes: "seen", no: "not there" };

const ENDS: Partial<Record<string, string>> = {
  "self-cleared": "it cleared by itself",
  abandoned: "the caller has gone",
};

/** The same answer, whatever was said of harm along with it. */
const isLike = (given: Move, sent: Move) =>
  Object.entries(given).every(([name, value]) => JSON.stringify(sent[name as keyof Move]) === JSON.stringify(value));

const shortened = (text: string) => (text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text);

/** What is asked: it changes when the question does, and not when a note comes in. */
export const placeOf = (view: ClimbView): string =>
  JSON.stringify([
    view.place,
    view.path.find(({ state }) => state === "now")?.path,
    view.question?.id,
    view.current?.guards_answered,
    view.current?.step.id,
    view.to_find,
    view.way_out?.id,
    view.search?.round,
    view.loose_ends.find(({ why_left }) => why_left == null)?.id,
  ]);
