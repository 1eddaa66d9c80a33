/** A length of time as ISO 8601 writes it. */
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
