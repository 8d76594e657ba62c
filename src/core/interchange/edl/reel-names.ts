/** Reel names as the columns of a list take them: up to 8 capitals and digits, no two sources alike. */
import { LONGEST_REEL } from './edl-types';

export class ReelNames {
  private readonly shortOf = new Map<string, string>();
  private readonly taken: Set<string>;
  /** Where numbering of equal beginnings goes on. */
  private readonly nextNumber = new Map<string, number>();

  /** `wanted`: every whole name to come. Those that fit as they are keep their own before others are shortened onto it. */
  constructor(reserved: readonly string[], wanted: Iterable<string> = []) {
    this.taken = new Set(reserved);
    for (const full of new Set(wanted)) {
      if (full !== plainOf(full) || full.length > LONGEST_REEL || this.taken.has(full)) continue;
      this.taken.add(full);
      this.shortOf.set(full, full);
    }
  }

  /** The same whole name always gives the same short one, another whole name another one. */
  short(full: string): string {
    const known = this.shortOf.get(full);
    if (known) return known;
    const plain = plainOf(full) || 'REEL';
    const first = plain.slice(0, LONGEST_REEL);
    let short = first;
    let number = this.nextNumber.get(first) ?? 2;
    for (; this.taken.has(short); number++) {
      const tail = String(number).padStart(2, '0');
      short = `${plain.slice(0, LONGEST_REEL - tail.length)}${tail}`;
    }
    this.nextNumber.set(first, number);
    this.taken.add(short);
    this.shortOf.set(full, short);
    return short;
  }
}

function plainOf(full: string): string {
  return full
    .normalize('NFKD')
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '');
}
