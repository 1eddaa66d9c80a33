/** Shares on a bar: what each takes, and how they divide anew when a border is dragged. */
import type { Item } from "../draft/tree";

/** Parts of one, of the weights as they are; equal parts where nobody weighs anything. */
export function sharesOf(weights: readonly number[]): number[] {
  const sum = weights.reduce((all, one) => all + one, 0);
  return weights.map((one) => (sum > 0 ? one / sum : 1 / weights.length));
}

/** Where the borders between shares lie, from the left. */
export function bordersOf(shares: readonly number[]): number[] {
  let sum = 0;
  return shares.slice(0, -1).map((share) => {
    sum += share;
    return sum;
  });
}

/** The border that lies elsewhere now than before, and by how much of the bar it was moved. */
export function movedBorder(
  before: readonly number[],
  after: readonly number[],
): { border: number; by: number } | undefined {
  const border = after.findIndex((place, n) => Math.abs(place - (before[n] ?? place)) > 1e-9);
  return border < 0 ? undefined : { border, by: (after[border] ?? 0) - (before[border] ?? 0) };
}

/** The weights after the border behind one part is dragged by a share of the bar: what it gains its neighbour loses, and
 * the sum of all stays as it was. Rounded to two digits behind the point of what the sum is made of. */
export function dragged(weights: readonly number[], border: number, by: number): number[] {
  const sum = weights.reduce((all, one) => all + one, 0);
  const [left = 0, right = 0] = [weights[border], weights[border + 1]];
  const gain = Math.min(Math.max(by * sum, -left), right);
  const unit = sum / 1000;
  const moved = Math.round(gain / unit) * unit;
  return weights.map((one, at) => {
    const now = at === border ? left + moved : at === border + 1 ? right - moved : one;
    return Number(Math.max(0, now).toPrecision(6));
  });
}

/** Shares in one, from counts, to three places; the largest takes what rounding leaves. */
export function fromCounts(counts: Readonly<Record<string, number>>): Record<string, number> {
  const sum = Object.values(counts).reduce((all, one) => all + one, 0);
  if (sum === 0) return {};
  const made = Object.entries(counts).map(
    ([value, one]) => [value, Math.round((one / sum) * 1000)] as [string, number],
  );
  const most = made.reduce((best, one) => (one[1] > best[1] ? one : best));
  most[1] += 1000 - made.reduce((all, [, one]) => all + one, 0);
  return Object.fromEntries(made.map(([value, one]) => [value, one / 1000]));
}

/** The shares with one more value among them: equal parts as long as nobody has said otherwise, else it gets what the
 * others leave. */
export function withValue(shares: Readonly<Record<string, unknown>>, added: string): Record<string, number> {
  const there = Object.values(shares).map(Number);
  const sum = there.reduce((all, one) => all + one, 0);
  const areEqual = Math.abs(sum - 1) < 0.0005 && Math.max(...there) - Math.min(...there) < 0.0015;
  if (there.length === 0 || areEqual) {
    return fromCounts(Object.fromEntries([...Object.keys(shares), added].map((name) => [name, 1])));
  }
  return { [added]: Math.max(0, Math.round((1 - sum) * 1000) / 1000) };
}

/** Under which key a fact keeps the shares of its values. */
export const listOf = (fact: Item): string => (fact.type === "choice" ? "choices" : "shares");
