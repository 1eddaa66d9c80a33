/** A command as it is spelled out to somebody who types it: the international spelling alphabet (ICAO), signs by name. */

const LETTERS =
  "Alfa Bravo Charlie Delta Echo Foxtrot Golf Hotel India Juliett Kilo Lima Mike November Oscar Papa Quebec Romeo Sierra Tango Uniform Victor Whiskey X-ray Yankee Zulu".split(
    " ",
  );
const DIGITS = "zero one two three four five six seven eight nine".split(" ");
const SIGNS: Record<string, string> = {
  " ": "space",
  "-": "dash",
  _: "underscore",
  ".": "dot",
  ",": "comma",
  ":": "colon",
  ";": "semicolon",
  "/": "slash",
  "\\": "backslash",
  "|": "upright bar",
  "+": "plus",
  "=": "equals",
  "*": "star",
  "#": "hash",
  "@": "at",
  "&": "and sign",
  "%": "percent",
  $: "dollar",
  "!": "exclamation mark",
  "?": "question mark",
  '"': "double quote",
  "'": "single quote",
  "(": "open bracket",
  ")": "close bracket",
  "[": "open square bracket",
  "]": "close square bracket",
  "{": "open curly bracket",
  "}": "close curly bracket",
  "<": "less than",
  ">": "greater than",
  "~": "tilde",
  "^": "caret",
  "`": "backtick",
};

/** Each character with its word, in order; a sign that has no name stands for itself. */
export const spelled = (text: string): { sign: string; word: string }[] =>
  [...text].map((sign) => ({ sign, word: wordOf(sign) }));

function wordOf(sign: string): string {
  const letter = /^[a-z]$/i.test(sign) ? LETTERS[sign.toLowerCase().charCodeAt(0) - 97] : undefined;
  if (letter) return sign === sign.toLowerCase() ? letter.toLowerCase() : `capital ${letter}`;
  return (/^\d$/.test(sign) ? DIGITS[Number(sign)] : SIGNS[sign]) ?? sign;
}
