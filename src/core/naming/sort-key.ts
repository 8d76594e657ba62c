/** A text that sorts names by its code units as people expect it: without regard to case and accents, numbers by their value. */
export function sortKey(name: string): string {
  return name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/\d+/g, (digits) => {
      const value = digits.replace(/^0+(?=\d)/, '');
      // The count of digits goes first, so that longer numbers come later.
      return `${String(Math.min(value.length, 99)).padStart(2, '0')}${value}`;
    });
}

/** Names are the same under this however they are composed, in whatever case. */
export function nameKey(name: string): string {
  return name.normalize('NFC').toLowerCase();
}
