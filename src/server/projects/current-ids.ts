/** What was asked under ids that timelines had before, under those they have now. */

/** Every text that is one of the keys becomes its value, however deep it lies. Gives the same object where there is none. */
export function withCurrentIds<T>(asked: T, now: ReadonlyMap<string, string>): T {
  if (now.size === 0) return asked;
  return renamed(asked, now) as T;
}

function renamed(value: unknown, now: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string') return now.get(value) ?? value;
  if (Array.isArray(value)) return value.map((entry) => renamed(entry, now));
  if (typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(Object.entries(value).map(([key, entry]) => [key, renamed(entry, now)]));
  return value;
}
