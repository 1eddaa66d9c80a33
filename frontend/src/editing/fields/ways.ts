/** What a text means that is typed into a field, and how what a field holds is shown as text. */
import type { Way } from "../../draft/useDraft";
import { durationIn, durationInWords } from "../../ui/duration";
import { readNumber, typedNumber } from "../../ui/number";

export const TEXT: Way = { read: (value) => (value == null ? "" : String(value)), write: (text) => text || null };

/** A number as it is typed; what is none is kept as it stands and told. */
export const NUMBER: Way = { read: numberAsTyped, write: (text) => numberIn(text, 1) };
/** Minutes of work, to which more may be added in words: of `3 + 8 wait` they are the first. */
export const MINUTES: Way = {
  read: numberAsTyped,
  write: (text) => numberIn(/^([^+]*\d)\s*\+/.exec(text)?.[1] ?? text, 1),
};

const ADDED = { wait: "wait", waiting: "wait", journey: "travel", parts: "parts" } as const;
export type Added = (typeof ADDED)[keyof typeof ADDED];

/** What is added to the minutes of work in words, such as the waiting of `3 + 8 wait`. */
export function addedIn(text: string): [Added, number][] {
  return [...text.matchAll(/\+\s*(\d+(?:[.,]\d+)?)\s*(?:min\s+)?(wait|waiting|journey|parts)(?![a-z])/gi)].map(
    ([, number, word]) => [ADDED[(word ?? "").toLowerCase() as keyof typeof ADDED], readNumber(number ?? "") ?? 0],
  );
}

/** The name of a thing on a unit: typed in words, kept as files write it. */
export const NAME: Way = {
  read: (value) => TEXT.read(value).replaceAll("-", " "),
  write: (text) => {
    const plain = text
      .normalize("NFKD")
      .replace(/[\u0300-\u036f]/g, "")
      .toLowerCase();
    return plain.replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "") || text || null;
  },
};
export const SHARE: Way = {
  read: (value) => numberAsTyped(typeof value === "number" ? rounded(value * 100) : value),
  write: (text) => numberIn(text, 100),
};

/** A length of time, typed as one says it; what is none is kept as it stands and told. */
export const DURATION: Way = {
  read: (value) => durationInWords(TEXT.read(value)),
  write: (text) => durationIn(text) ?? (text || null),
};

function numberIn(text: string, by: number): number | string | null {
  if (text.trim() === "") return null;
  const number = readNumber(text);
  return number === undefined || /[.,]\s*$/.test(text) ? text : rounded(number / by);
}

function numberAsTyped(value: unknown): string {
  return typeof value === "number" ? typedNumber(value) : TEXT.read(value);
}

const rounded = (number: number) => Number(number.toPrecision(12));

/** The way of a part of an object that is set as a whole; an object with nothing in it is none. */
export function within(part: readonly string[], way: Way): Way {
  return {
    read: (value) => way.read(partOf(value, part)),
    write: (text, there) => withPart(there, part, way.write(text, partOf(there, part))),
  };
}

export function partOf(value: unknown, part: readonly string[]): unknown {
  return part.reduce<unknown>((here, name) => (isObject(here) ? here[name] : undefined), value);
}

export function withPart(whole: unknown, [name, ...rest]: readonly string[], value: unknown): unknown {
  if (name === undefined) return value;
  const { [name]: there, ...others } = isObject(whole) ? whole : {};
  const made = withPart(there, rest, value);
  const all = made == null ? others : { ...others, [name]: made };
  return Object.keys(all).length > 0 ? all : null;
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
