/** Names without what systems change in them: case, accents, blanks and signs. */
import { splitExtension } from '../naming/safe-name';
import { isAscii } from '../naming/utf8-length';

/** Longer names are told apart by their beginning: no index key grows without measure. */
const LONGEST = 200;

/** Letters and digits alone, in small letters: "A001_C001 Türe" → "a001c001ture". Empty where there are none. */
export function plainName(name: string): string {
  const cut = name.length > LONGEST ? name.slice(0, LONGEST) : name;
  if (isAscii(cut)) return cut.toLowerCase().replace(/[^a-z0-9]+/g, '');
  return cut
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');
}

/** Like `plainName`, but where signs part a name they still do: "A001_C001 b" → "a001 c001 b". */
export function partedName(name: string): string {
  const cut = name.length > LONGEST ? name.slice(0, LONGEST) : name;
  if (isAscii(cut)) return cut.toLowerCase().replace(/[^a-z0-9]+/g, ' ').trim(); // prettier-ignore
  return cut
    .normalize('NFKD')
    .toLowerCase()
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}

/** Last name of an address of any system: "S:\rushes\a.mov" and "/rushes/a.mov" → "a.mov". */
export function lastName(address: string): string {
  return address.slice(Math.max(address.lastIndexOf('/'), address.lastIndexOf('\\')) + 1).trim();
}

export function stemOfName(name: string): string {
  return splitExtension(name)[0];
}

/** A number of one frame, or a sign for it, at the end of a stem: "pour.0101", "pour_[1001-1072]", "pour.%04d", "pour.####". */
const FRAME_NUMBER = /[._ -]?(?:\[\d{1,9}-\d{1,9}\]|%0?\d?d|#{1,9}|\d{3,9})$/;

/** The name of the pictures that a name of one frame, or of all of them, belongs to; null where it is none. */
export function withoutFrameNumber(stem: string): string | null {
  const cut = stem.replace(FRAME_NUMBER, '');
  return cut === stem || cut === '' ? null : cut;
}
