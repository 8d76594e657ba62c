import { isAscii } from './utf8-length';

/** As file systems that fold case compare names: Straße and STRASSE, final and other sigma are one. */
export function foldPath(path: string): string {
  if (isAscii(path)) return path.toLowerCase();
  return path.normalize('NFC').toUpperCase().toLowerCase().normalize('NFC').replaceAll('ς', 'σ');
}
