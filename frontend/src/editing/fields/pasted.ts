/** Small work on words: lists that are pasted, and the right article. */

/** The lines of a pasted list, without the numbers or bullets that word processors put before them. */
export const pastedLines = (text: string): string[] =>
  text
    .split(/\r\n?|\n/)
    .map((line) => line.replace(/^\s*(?:[-–—*•‣◦▪·o]|\(?\d{1,3}[.)]|[a-z][.)])\s+/i, "").trim())
    .filter(Boolean);

export const withArticle = (noun: string) =>
  /^(another|one more) /.test(noun) ? noun : `${/^[aeiou]/i.test(noun) ? "an" : "a"} ${noun}`;
