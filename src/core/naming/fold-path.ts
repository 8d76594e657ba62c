/** As file systems that fold case compare names: Straße and STRASSE, final and other sigma are one. */
export function foldPath(path: string): string {
  return path.normalize('NFC').toUpperCase().toLowerCase().normalize('NFC').replaceAll('ς', 'σ');
}
