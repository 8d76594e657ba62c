/** BagIt (RFC 8493): the texts of a bag, written and read. Paths are relative to the bag's root, with `/`. */
import type { ArchiveEntry } from '../archive-format';

/** Whether a file of a bag is what it carries, and not what tells of it (2.1.2). */
export function isPayload({ path }: { readonly path: string }): boolean {
  return path.startsWith('data/');
}

/** Contents of bagit.txt (RFC 8493, 2.1.1). */
export const BAG_DECLARATION = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n';

/** A manifest in the two-column form that `sha256sum -c` reads too; sorted by path (2.1.3). */
export function formatManifest(entries: readonly ArchiveEntry[]): string {
  return [...entries]
    .sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : 0))
    .map((entry) => `${entry.checksum}  ${encodePath(entry.path)}\n`)
    .join('');
}

/** CR, LF and % are percent-encoded, nothing else (2.1.3). */
function encodePath(path: string): string {
  return path.replace(/[%\r\n]/g, (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`);
}

function decodePath(path: string): string {
  return path.replace(/%(0[aAdD]|25)/g, (_, code: string) => String.fromCharCode(parseInt(code, 16)));
}

/** Reads a manifest; lines that are none come back with their number. Some writers leave % as it is: read as such. */
export function readManifest(text: string): { entries: ArchiveEntry[]; badLines: number[] } {
  const entries: ArchiveEntry[] = [];
  const badLines: number[] = [];
  text.split(/\r\n|\r|\n/).forEach((line, index) => {
    if (line.trim() === '') return;
    const match = /^([0-9a-fA-F]{32,128})(\s.*)$/s.exec(line);
    const path = match?.[2]!.trimStart().replace(/^\*/, '').replace(/^\.\//, '') ?? '';
    if (match && path !== '') entries.push(manifestEntry(match[1]!.toLowerCase(), path));
    else badLines.push(index + 1);
  });
  return { entries, badLines };
}

function manifestEntry(checksum: string, literal: string): ArchiveEntry {
  const path = decodePath(literal);
  return { checksum, path, ...(path === literal ? {} : { literal }) };
}

/** Values by label, in whatever letter case either is written. */
export class BagInfo {
  private readonly values = new Map<string, string>();

  get(label: string): string | undefined {
    return this.values.get(label.toLowerCase());
  }

  set(label: string, value: string): void {
    this.values.set(label.toLowerCase(), value);
  }
}

/** `Label: value` lines of bag-info.txt; folded lines belong to the one above, letter case of labels means nothing (2.2.2). */
export function readBagInfo(text: string): BagInfo {
  const info = new BagInfo();
  let last = '';
  for (const line of text.split(/\r\n|\r|\n/)) {
    if (/^\s+\S/.test(line) && last !== '') {
      info.set(last, `${info.get(last)} ${line.trim()}`);
      continue;
    }
    const match = /^([^:]+):(.*)$/.exec(line);
    if (!match) continue;
    last = match[1]!.trim();
    info.set(last, match[2]!.trimStart());
  }
  return info;
}

/** One line a value: line breaks inside a value become spaces. */
export function formatBagInfo(entries: readonly (readonly [string, string])[]): string {
  return entries.map(([label, value]) => `${label}: ${value.replace(/\s+/g, ' ').trim()}\n`).join('');
}

/** Payload-Oxum: bytes and count of the files under data/ (2.2.2). */
export function payloadOxum(files: readonly { bytes: number }[]): string {
  return `${files.reduce((sum, file) => sum + file.bytes, 0)}.${files.length}`;
}

/** Whether a manifest's path stays inside the bag: no absolute paths, no `..` (RFC 8493, 5.2). */
export function staysInside(path: string): boolean {
  return path !== '' && !path.startsWith('/') && !path.startsWith('~') && !/^[A-Za-z]:/.test(path) && !path.split(/[\\/]/).includes('..');
}
