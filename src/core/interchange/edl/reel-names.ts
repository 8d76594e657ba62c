/** Reel names as the columns of a list take them: up to 8 capitals and digits, no two sources alike. */
import { LONGEST_REEL } from './edl-types';

export class ReelNames {
  private readonly shortOf = new Map<string, string>();
  private readonly taken: Set<string>;

  constructor(reserved: readonly string[]) {
    this.taken = new Set(reserved);
  }

  /** The same whole name always gives the same short one, another whole name another one. */
  short(full: string): string {
    const known = this.shortOf.get(full);
    if (known) return known;
    const plain =
      full
        .normalize('NFKD')
        .toUpperCase()
        .replace(/[^A-Z0-9]/g, '') || 'REEL';
    let short = plain.slice(0, LONGEST_REEL);
    for (let number = 2; this.taken.has(short); number++) {
      const tail = String(number).padStart(2, '0');
      short = `${plain.slice(0, LONGEST_REEL - tail.length)}${tail}`;
    }
    this.taken.add(short);
    this.shortOf.set(full, short);
    return short;
  }
}
