/**
 * File names that every file system and shell takes as they are.
 * Source for the forbidden characters and device names: Microsoft's file naming documentation; `%` is left out too,
 * because checksum manifests (RFC 8493, 2.1.3) would have to encode it and plain checkers would then miss the file.
 */
import { foldPath } from './fold-path';
import { trimEndOf } from './trim-end';
import { utf8Length } from './utf8-length';

const DEVICE = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³]) *(\.|$)/i;
const LONGEST_NAME_BYTES = 200;

/** One portable name (no folder). Never empty, never hidden, never readable as an option. Keeps the extension. */
export function portableName(name: string): string {
  let out = name
    .toWellFormed()
    .normalize('NFC')

    .replace(/[\u0000-\u001f\u007f-\u009f<>:"/\\|?*%\u200b-\u200f\u2028-\u202e\u2066-\u2069\ufffd]/g, '_')
    .replace(/^[\s.-]+/, (lead) => '_'.repeat(lead.trim() === '' ? 0 : 1));
  out = trimEndOf(out, /[\s.]/);
  if (DEVICE.test(out)) out = `_${out}`;
  if (out === '') return 'unnamed';
  return shorten(out, LONGEST_NAME_BYTES);
}

function shorten(name: string, limit: number): string {
  if (utf8Length(name) <= limit) return name;
  const [stem, extension] = splitExtension(name);
  return shortStem(stem, extension, limit) + extension;
}

/** The stem cut so that it fits the limit with what follows; it never ends in a blank or a dot. */
function shortStem(stem: string, rest: string, limit: number): string {
  const signs = [...stem];
  let bytes = utf8Length(stem) + utf8Length(rest);
  while (signs.length > 1 && bytes > limit) bytes -= utf8Length(signs.pop()!);
  return trimEndOf(signs.join(''), /[\s.]/) || '_';
}

/** `stem` and `rest` as one name: the stem gives way where both are too long. */
export function fittingName(stem: string, rest: string): string {
  return shortStem(stem, rest, LONGEST_NAME_BYTES) + rest;
}

/** ["A001_C001", ".mov"]; the second part is empty when there is no extension. */
export function splitExtension(name: string): [string, string] {
  const match = /^(.+?)(\.[A-Za-z0-9]{1,8})$/.exec(name);
  return match ? [match[1]!, match[2]!] : [name, ''];
}

/** Hands out names no two of which are equal where letter case is folded. */
export class NameRegister {
  private readonly taken = new Set<string>();
  /** Numbers up to which a name was given: many equal names are no more work than others. */
  private readonly given = new Map<string, number>();

  constructor(taken: Iterable<string> = []) {
    for (const path of taken) this.taken.add(foldPath(path));
  }

  /** `folder/name`, or `folder/name_2` … when it is taken. */
  claim(folder: string, name: string): string {
    const [stem, extension] = splitExtension(portableName(name));
    const key = foldPath(`${folder}/${stem}${extension}`);
    for (let number = (this.given.get(key) ?? 0) + 1; ; number++) {
      const rest = `${number === 1 ? '' : `_${number}`}${extension}`;
      const fitting = number === 1 ? stem : shortStem(stem, rest, LONGEST_NAME_BYTES);
      const path = `${folder === '' ? '' : `${folder}/`}${fitting}${rest}`;
      if (!this.taken.has(foldPath(path))) {
        this.taken.add(foldPath(path));
        this.given.set(key, number);
        return path;
      }
    }
  }
}

/** What stands before the number in the names of frames, portable. */
export function portablePrefix(prefix: string): string {
  return portableName(`${prefix}0`).slice(0, -1);
}
