/** Keys of what is made in this page: items, marks of place, groups, clients. */
const LETTERS = "abcdefghijklmnopqrstuvwxyz0123456789";

/** A key that was never used: a letter first. */
export function newKey(): string {
  const numbers = crypto.getRandomValues(new Uint8Array(9));
  return `k${[...numbers].map((number) => LETTERS[number % LETTERS.length]).join("")}`;
}
