/** A length of time as one says it, and as ISO 8601 writes it. */
export const LENGTHS = ["minutes", "hours", "days"] as const;
export type Length = (typeof LENGTHS)[number];

const MINUTES: Record<Length, number> = { minutes: 1, hours: 60, days: 24 * 60 };

/** `2` hours as `PT2H`, `1.5` hours as `PT90M`; undefined for what is no length. */
export function asDuration(text: string, length: Length): string | undefined {
  const number = Number(text.trim().replace(",", "."));
  if (!text.trim() || !Number.isFinite(number)) return undefined;
  const minutes = Math.round(number * MINUTES[length]);
  if (minutes <= 0) return undefined;
  if (minutes % MINUTES.days === 0) return `P${minutes / MINUTES.days}D`;
  return minutes % MINUTES.hours === 0 ? `PT${minutes / MINUTES.hours}H` : `PT${minutes}M`;
}

/** `PT6H` as `6 hours`; anything else as it is. */
export function inPlainWords(value: string): string {
  const match = /^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)S)?)?$/.exec(value);
  if (!match?.slice(1).some(Boolean)) return value;
  const names = ["day", "hour", "minute", "second"];
  return match
    .slice(1)
    .flatMap((n, place) => (Number(n) > 0 ? `${Number(n)} ${names[place]}${Number(n) === 1 ? "" : "s"}` : []))
    .join(" ");
}
