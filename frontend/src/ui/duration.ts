/** Lengths of time: as people write them, and as ISO 8601 does, which files hold. */
import { readNumber } from "./number";

/** The parts of a duration, the longest first: their letter, their seconds, how they are written and how they are read. */
const PARTS = [
  { letter: "D", seconds: 24 * 3600, says: (n: number) => (n === 1 ? "1 day" : `${n} days`), reads: /^d(ays?)?$/ },
  { letter: "H", seconds: 3600, says: (n: number) => `${n} h`, reads: /^h((ou)?rs?)?$/ },
  { letter: "M", seconds: 60, says: (n: number) => `${n} min`, reads: /^m(in(ute)?s?)?$/ },
  { letter: "S", seconds: 1, says: (n: number) => `${n} s`, reads: /^s(ec(ond)?s?)?$/ },
] as const;
const WEEK = /^w(eeks?)?$/;
const ISO = /^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)S)?)?$/i;
const PIECE = /(\d+(?:[.,]\d+)?)\s*([a-z]+)\.?/gi;
const BETWEEN = /^(?:[\s,;+]|\band\b)*$/i;

/** `4 h`, `1 hour 30 min`, `1,5 days` or `PT4H` as files hold it; undefined for what is no length of time. */
export function durationIn(text: string): string | undefined {
  const plain = text.trim();
  if (ISO.test(plain) && /\d/.test(plain)) return plain.toUpperCase();
  const pieces = [...plain.matchAll(PIECE)];
  if (pieces.length === 0 || !BETWEEN.test(plain.replace(PIECE, " "))) return undefined;
  const counts = [0, 0, 0, 0];
  for (const [, number = "", word = ""] of pieces) {
    const name = word.toLowerCase();
    const isWeek = WEEK.test(name);
    const at = isWeek ? 0 : PARTS.findIndex(({ reads }) => reads.test(name));
    if (at < 0) return undefined;
    add(counts, at, (readNumber(number) ?? 0) * (isWeek ? 7 : 1));
  }
  return written(counts);
}

/** Add so much of one part: what is not whole goes on as the next smaller one. */
function add(counts: number[], at: number, amount: number): void {
  const whole = at === PARTS.length - 1 ? Math.round(amount) : Math.floor(amount + 1e-9);
  counts[at] = (counts[at] ?? 0) + whole;
  const rest = amount - whole;
  const [part, next] = [PARTS[at], PARTS[at + 1]];
  if (part && next && rest > 1e-9) add(counts, at + 1, (rest * part.seconds) / next.seconds);
}

function written([days = 0, ...clock]: number[]): string {
  const time = clock.map((count, at) => (count > 0 ? `${count}${PARTS[at + 1]?.letter}` : "")).join("");
  if (!time && days === 0) return "PT0S";
  return `P${days > 0 ? `${days}D` : ""}${time ? `T${time}` : ""}`;
}

export const LENGTHS = ["minutes", "hours", "days"] as const;
export type Length = (typeof LENGTHS)[number];

/** `2` hours as `PT2H`, `1.5` hours as `PT90M`: in the longest part that it is whole in, whole minutes at least; undefined
 * for what is no length. */
export function asDuration(text: string, length: Length): string | undefined {
  const number = readNumber(text);
  const part = PARTS.find(({ reads }) => reads.test(length));
  if (!part || number === undefined) return undefined;
  const seconds = 60 * Math.round((number * part.seconds) / 60);
  const at = PARTS.findIndex((one) => seconds % one.seconds === 0);
  return seconds > 0 ? written(PARTS.map((one, n) => (n === at ? seconds / one.seconds : 0))) : undefined;
}

/** `PT1H30M` as `1 h 30 min`; what is no duration as it stands. */
export function durationInWords(text: string): string {
  const found = ISO.exec(text);
  const counts = found?.slice(1).map((one) => (one === undefined ? undefined : Number(one))) ?? [];
  const words = counts.flatMap((count, at) => (count === undefined ? [] : [PARTS[at]?.says(count) ?? ""]));
  return words.length > 0 ? words.join(" ") : text;
}
