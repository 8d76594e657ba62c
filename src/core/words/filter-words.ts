/** Looking for something by a few words. */

/** Words that a row must all hold, in small letters; none leaves everything. */
export function filterWords(filter: string): string[] {
  return filter.normalize('NFC').toLowerCase().split(/\s+/).filter((word) => word !== ''); // prettier-ignore
}

export function fits(words: readonly string[], text: string): boolean {
  const small = words.length === 0 ? '' : text.normalize('NFC').toLowerCase();
  return words.every((word) => small.includes(word));
}
