/** Find a symptom by what a caller reads out: exact codes and messages first, then words in signs, titles and steps. */
import type { SymptomCard } from "../api/types";

export interface Found {
  symptom: SymptomCard;
  /** The text that matched, to show why. */
  because: string;
  score: number;
}

const SHORTEST = 2;

/** Symptoms that fit the words, best first; none for no words. */
export function find(symptoms: readonly SymptomCard[], words: string): Found[] {
  const wanted = plain(words);
  const parts = wanted.split(" ").filter((word) => word.length >= SHORTEST);
  if (parts.length === 0) return [];
  return symptoms
    .map((symptom) => best(symptom, wanted, parts))
    .filter((found) => found.score > 0)
    .sort((a, b) => b.score - a.score);
}

function best(symptom: SymptomCard, wanted: string, parts: string[]): Found {
  const texts = [
    symptom.title,
    symptom.says,
    ...symptom.signs.map((sign) => sign.text),
    ...symptom.steps.map((step) => step.title),
  ];
  let found: Found = { symptom, because: "", score: 0 };
  for (const text of texts) {
    const score = scoreOf(plain(text), wanted, parts);
    if (score > found.score) found = { symptom, because: text, score };
  }
  return found;
}

/** 2 for the very text, else the share of the words that it holds. */
function scoreOf(text: string, wanted: string, parts: string[]): number {
  if (text === wanted) return 2;
  const held = parts.filter((word) => ` ${text}`.includes(` ${word}`)).length;
  return held / parts.length;
}

const plain = (text: string) =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();
