/** One reader of numbers: as the reader's own place writes them, told apart from what could be two numbers. */

export interface Separators {
  decimal: string;
  group: string;
}

/** How a place writes the parts of a number. */
export function separatorsOf(locale?: string): Separators {
  const parts = new Intl.NumberFormat(locale, { useGrouping: true, minimumFractionDigits: 1 }).formatToParts(
    12345678.9,
  );
  const of = (type: string) => parts.find((part) => part.type === type)?.value;
  return { decimal: of("decimal") ?? ".", group: of("group") ?? "," };
}

const SPACES = /[\s\u00a0\u202f]/gu;
const PLAIN = /^[+-]?(\d+(\.\d*)?|\.\d+)$/;
const ONE_MARK_THREE_DIGITS = /^[+-]?[1-9]\d{0,2}[.,]\d{3}$/;
const THOUSANDS = /^[+-]?\d{1,3}(?:[.,]\d{2,3})*[.,]\d{3}$/;

/** What was typed, as a number; undefined for what is none. A mark that can only be a decimal one is read as such in
 * every place: `7,5` and `7.5` are the same. `1,500` is read as the place writes it, see `couldBeTwo`. */
export function readNumber(text: string, { decimal, group }: Separators = HERE): number | undefined {
  const typed = plainMarks(text);
  const marks = typed.match(/[.,]/g) ?? [];
  if (marks.length === 0) return plainly(typed);
  if (marks.length === 1) {
    const [mark = ""] = marks;
    const isGroup = ONE_MARK_THREE_DIGITS.test(typed) && mark === group && mark !== decimal;
    return plainly(typed.replace(mark, isGroup ? "" : "."));
  }
  // Several of one mark part thousands; of two marks the last one is decimal.
  const last = new Set(marks).size === 1 ? undefined : marks.at(-1);
  const [whole = "", part, ...more] = last ? typed.split(last) : [typed];
  if (more.length > 0 || !THOUSANDS.test(whole)) return undefined;
  return plainly(whole.replace(/[.,]/g, "") + (part === undefined ? "" : `.${part}`));
}

/** Whether another place would read another number: 1,500 is one and a half here, and fifteen hundred there. */
export const couldBeTwo = (text: string): boolean => ONE_MARK_THREE_DIGITS.test(plainMarks(text));

const plainMarks = (text: string): string =>
  withPlainDigits(text.trim()).replace(SPACES, "").replace(/[’'٬]/g, "").replace(/٫/g, ".");

const fields = new Intl.NumberFormat(undefined, { useGrouping: false, maximumFractionDigits: 12 });

/** A number as it stands in a field, for `readNumber` to read back. */
export const typedNumber = (number: number): string => fields.format(number);

const plainly = (typed: string): number | undefined => (PLAIN.test(typed) ? Number(typed) : undefined);

/** Digits of other scripts as 0 to 9. */
const withPlainDigits = (text: string): string =>
  text.replace(/\p{Nd}/gu, (digit) => {
    const code = digit.codePointAt(0) ?? 0;
    // Every script has its ten digits in a row.
    let zero = code;
    while (code - zero < 9 && /\p{Nd}/u.test(String.fromCodePoint(zero - 1))) zero -= 1;
    return String((code - zero) % 10);
  });

const HERE = separatorsOf();
