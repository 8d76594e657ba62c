/** Choices of a stage as they were kept; `on`: the day on which its names were chosen that hold one (ISO 8601). */
export type Kept = Record<string, unknown>;

/** The day it was when the names were chosen (`on`) becomes `today`; other days stay. */
export function renewed({ on, ...kept }: Kept, today: string): Kept {
  if (typeof on !== 'string') return kept;
  return Object.fromEntries(Object.entries(kept).map(([key, value]) => [key, typeof value === 'string' ? value.replaceAll(on, today) : value]));
}
