/** Numbers and dates as the reader's own place writes them. */
const HALF_YEAR = 182 * 24 * 3600 * 1000;
/** Sums of shares come out this close to what they should be. */
const ROUNDING = 1e-9;
const NBSP = "\u00a0";
const whole = new Intl.NumberFormat(undefined, { maximumFractionDigits: 0 });
const tenth = new Intl.NumberFormat(undefined, { minimumFractionDigits: 1, maximumFractionDigits: 1 });
const hundredth = new Intl.NumberFormat(undefined, { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const plain = new Intl.NumberFormat(undefined, { maximumFractionDigits: 6 });
const thousandth = new Intl.NumberFormat(undefined, { minimumFractionDigits: 3, maximumFractionDigits: 3 });
const day = new Intl.DateTimeFormat(undefined, { day: "numeric", month: "short", year: "numeric" });
const month = new Intl.DateTimeFormat(undefined, { month: "short", year: "numeric", timeZone: "UTC" });
const clock = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit" });
const dayAndClock = new Intl.DateTimeFormat(undefined, {
  day: "numeric",
  month: "short",
  hour: "2-digit",
  minute: "2-digit",
});

/** A share in [0, 1] as per cent; a share that is neither none nor all never reads as 0 or 100. */
export function percent(share: number): string {
  if (share > ROUNDING && share < 0.005) return `<${NBSP}1${NBSP}%`;
  if (share < 1 - ROUNDING && share >= 0.995) return `>${NBSP}99${NBSP}%`;
  return `${whole.format(share * 100)}${NBSP}%`;
}

export const count = (n: number) => whole.format(n);

/** Effort or clock minutes, with one decimal below ten. */
export const minutes = (n: number) => `${trimmed(n)}${NBSP}min`;

/** A mark on an axis: as many places as it has. */
export const tick = (n: number) => plain.format(n);

export const points = (n: number) => hundredth.format(n);

/** A plain figure: whole where it is whole, else with one decimal. */
export function trimmed(n: number): string {
  return Number.isInteger(n) || n >= 100 ? whole.format(n) : tenth.format(n);
}

export const tenths = (n: number) => tenth.format(n);
export const thousandths = (n: number) => thousandth.format(n);

/** What a figure differs by from another, in words: `0.3 min more`, and `same min` below what matters. */
export function difference(by: number, least: number, inWords: (n: number) => string, unit = ""): string {
  const named = (word: string, after = "") => [word, unit, after].filter(Boolean).join(" ");
  if (Math.abs(by) < least) return named("same");
  return named(inWords(Math.abs(by)), by > 0 ? "more" : "less");
}

export interface Span {
  mean: number;
  low: number;
  high: number;
}

type Words = (n: number) => string;

/** By how much more something is, with its interval: `2.0 more (0.4 to 3.1 more)`; or that nobody can tell: `no clear
 * difference (1.3 less to 0.2 more)`. Never a sign. */
export function moreOrLess(more: Span, least: number, inWords: Words): string {
  if (Math.max(Math.abs(more.low), Math.abs(more.high)) < least) return "no difference";
  const range = rangeInWords(more, least, inWords);
  return isClear(more) ? `${difference(more.mean, least, inWords)} (${range})` : `no clear difference (${range})`;
}

/** The same of how much is saved. */
export const lessOrMore = (saved: Span, least: number, inWords: Words): string =>
  moreOrLess(turned(saved), least, inWords);

/** The interval of a difference alone: `0.4 to 3.1 more`, `1.3 less to 0.2 more`. */
export function rangeInWords(more: Span, least: number, inWords: Words): string {
  const { low, high } = more;
  if (!isClear(more)) return `${difference(low, least, inWords)} to ${difference(high, least, inWords)}`;
  const [near, far] = [low, high].map(Math.abs).toSorted((a, b) => a - b);
  return `${inWords(near ?? 0)} to ${difference(low > 0 ? (far ?? 0) : -(far ?? 0), least, inWords)}`;
}

/** Whether the whole interval is on one side. */
export const isClear = ({ low, high }: Span): boolean => low * high > 0;

export const turned = ({ mean, low, high }: Span): Span => ({ mean: -mean, low: -high, high: -low });

export const onDay = (iso: string) => day.format(new Date(iso));
/** A month such as 2026-04. */
export const inMonth = (iso: string) => month.format(new Date(`${iso}-01T00:00:00Z`));
export const atClock = (iso: string) => clock.format(new Date(iso));

/** The clock for today, day and clock within the last half year, the whole date before that. */
export function moment(iso: string, now = new Date()): string {
  const at = new Date(iso);
  if (at.toDateString() === now.toDateString()) return clock.format(at);
  return now.getTime() - at.getTime() < HALF_YEAR ? dayAndClock.format(at) : day.format(at);
}

/** `1 case`, `2 cases`. */
export const plural = (n: number, one: string, many = `${one}s`) => `${count(n)}${NBSP}${n === 1 ? one : many}`;
