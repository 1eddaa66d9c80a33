/** Find a symptom by what a caller reads out: exact codes and messages first, then words, the rarer the better. */
import type { SymptomCard } from "../api/types";

export interface Found {
  symptom: SymptomCard;
  /** The text that fits best, to show why. */
  because: string;
  score: number;
}

interface Text {
  shown: string;
  words: string[];
  /** The fixed words of a message or code as a screen shows it, between its changing parts: read out whole, they settle
   * the matter. */
  exact?: string[][];
}

const SHORTEST = 2;
const SETTLED = 1000;
/** Words of a changing part of a message. */
const LONGEST_PART = 6;
const PART = /\{(?:not )?[a-z0-9-]+\}/;

/** Symptoms that fit the words, best first; none for no words. */
export function find(symptoms: readonly SymptomCard[], words: string): Found[] {
  const wanted = wordsOf(words);
  const telling = wanted.filter((word) => word.length >= SHORTEST);
  if (telling.length === 0) return [];
  const texts = symptoms.map(textsOf);
  const weights = new Map(telling.map((word) => [word, rarity(word, texts)]));
  return symptoms
    .map((symptom, index) => fitOf(symptom, texts[index] ?? [], wanted, weights))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score);
}

function textsOf(symptom: SymptomCard): Text[] {
  const plain = [symptom.title, symptom.says, ...symptom.steps.map(({ title }) => title)];
  return [
    ...plain.map((shown) => ({ shown, words: wordsOf(shown) })),
    ...symptom.signs.map(({ kind, text }) => ({
      shown: text,
      words: wordsOf(text),
      ...(kind !== "seen" && { exact: text.split(PART).map(wordsOf) }),
    })),
  ];
}

/** The one symptom whose message or code was read out whole; none where two were, or none was. */
export function settledOn(found: readonly Found[]): SymptomCard | undefined {
  const settled = found.filter(({ score }) => score >= SETTLED);
  return settled.length === 1 ? settled[0]?.symptom : undefined;
}

/** More for a word that few symptoms hold; 0 for one that all of them hold, such as "the". */
function rarity(word: string, texts: Text[][]): number {
  const holding = texts.filter((some) => some.some((text) => holds(text.words, word))).length;
  return holding === 0 ? 0 : Math.log((texts.length + 0.5) / holding);
}

function fitOf(symptom: SymptomCard, texts: Text[], wanted: string[], weights: Map<string, number>): Found {
  let best: Found = { symptom, because: "", score: 0 };
  let whole = 0;
  for (const [word, weight] of weights) if (texts.some((text) => holds(text.words, word))) whole += weight;
  for (const text of texts) {
    let score = text.exact && isReadOut(text.exact, wanted) ? SETTLED : 0;
    for (const [word, weight] of weights) if (holds(text.words, word)) score += weight;
    if (score > best.score) best = { symptom, because: text.shown, score };
  }
  return { ...best, score: best.score + whole };
}

/** Whether a text holds the beginning of each of the words. */
export function holdsAll(text: string, words: string): boolean {
  const there = wordsOf(text);
  const wanted = wordsOf(words);
  return wanted.length > 0 && wanted.every((word) => holds(there, word));
}

const holds = (words: string[], start: string) => words.some((word) => word.startsWith(start));

/** Whether the fixed words stand there in order, with a few words between them where the message changes. One that
 * begins or ends with a changing part could be a piece of any sentence, and settles nothing. */
function isReadOut(fixed: string[][], all: string[]): boolean {
  if (fixed[0]?.length === 0 || fixed.at(-1)?.length === 0) return false;
  const follows = (number: number, from: number, most: number): boolean => {
    const part = fixed[number];
    if (!part) return true;
    for (let at = from; at <= Math.min(all.length - part.length, from + most); at++) {
      if (part.every((word, n) => all[at + n] === word) && follows(number + 1, at + part.length + 1, LONGEST_PART)) {
        return true;
      }
    }
    return false;
  };
  return follows(0, 0, all.length);
}

const wordsOf = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
