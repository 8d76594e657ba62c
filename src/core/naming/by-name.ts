const COLLATOR = new Intl.Collator('en', { numeric: true });

/** Order of names as people expect it, numbers by their value. */
export function byName(a: string, b: string): number {
  return COLLATOR.compare(a, b);
}
