/** The addresses that stand in timelines, in every shape met in practice, and the ones we write. */

export interface MediaAddress {
  /** Whether the address starts at a root of some machine; otherwise it is relative to the document. */
  readonly absolute: boolean;
  /** Names from the root (or from the document's folder) down, as they stand, decoded. `..` is kept. */
  readonly segments: readonly string[];
  /** "C:" or "\\server" where the address begins with one. */
  readonly volume: string | null;
}

/**
 * Reads absolute and relative paths, `file://` with and without host, percent-encoding, Windows drive letters
 * and UNC names. Null for what is no file (http:, data: and the like) and for an empty text.
 */
export function readAddress(url: string): MediaAddress | null {
  const trimmed = url.trim();
  if (trimmed === '') return null;
  if (/^file:/i.test(trimmed)) {
    const rest = decode(trimmed.slice(5));
    const host = /^\/\/([^/]*)(\/.*)?$/.exec(rest);
    if (!host) return fromPath(rest);
    const [, name = '', path = ''] = host;
    if (/^[A-Za-z]:$/.test(name)) return fromPath(`${name}${path}`);
    if (name === '' || name === 'localhost') return fromPath(path);
    return { absolute: true, volume: `\\\\${name}`, segments: split(path) };
  }
  if (/^[A-Za-z][A-Za-z0-9+.-]+:\/\//.test(trimmed)) return null;
  // A plain path may be percent-encoded or may hold a real percent sign: only well-formed escapes are decoded.
  return fromPath(/^[A-Za-z]:[\\/]|^\\\\/.test(trimmed) ? trimmed : trimmed.includes('%') ? decode(trimmed) : trimmed);
}

function fromPath(path: string): MediaAddress {
  const drive = /^\/?([A-Za-z]:)[\\/](.*)$/s.exec(path);
  if (drive) return { absolute: true, volume: drive[1]!.toUpperCase(), segments: split(drive[2]!.replaceAll('\\', '/')) };
  const share = /^\\\\([^\\/]+)[\\/](.*)$/s.exec(path);
  if (share) return { absolute: true, volume: `\\\\${share[1]!}`, segments: split(share[2]!.replaceAll('\\', '/')) };
  return { absolute: path.startsWith('/'), volume: null, segments: split(path) };
}

function split(path: string): string[] {
  return path.split('/').filter((part) => part !== '' && part !== '.');
}

function decode(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** A relative address for a document: each name percent-encoded, so that `%`, `#`, `?` and spaces survive. */
export function relativeAddress(segments: readonly string[]): string {
  return segments.map((segment) => (segment === '..' ? '..' : encodeURIComponent(segment))).join('/');
}

/** Names are compared in composed form: some file systems store them decomposed. */
export function sameName(a: string, b: string): boolean {
  return a.normalize('NFC') === b.normalize('NFC');
}
