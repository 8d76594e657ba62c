/** What is said of runs, on every screen and on paper. */

/** What became of the bytes of a run's files, by its kind. */
export function bytesWord(kind: string): string {
  const words: Readonly<Record<string, string>> = {
    undo: 'Removed',
    restore: 'Read and compared',
    'check-crate': 'Read and compared',
    'check-copies': 'Read and compared',
    decode: 'Decoded',
    relink: 'Read whole',
  };
  return words[kind] ?? 'Written and checked';
}
