/** Values of facts as people say and write them, and as the draft holds them: lengths of time differ. */
import { durationIn, durationInWords } from "../../ui/duration";

export const factInWords = (type: unknown, value: string): string =>
  type === "duration" ? durationInWords(value) : value;

/** What cannot be read as a value of that type stays as it was typed. */
export function factIn(type: unknown, text: string): string {
  const plain = text.trim();
  return type === "duration" ? (durationIn(plain) ?? plain) : plain;
}
