/** How far a name is made portable, and why it had to be another. */
import { portableName } from './safe-name';
import { utf8Length } from './utf8-length';

/** `everywhere`: Windows, macOS and Linux take it; `plain`: also old tools, letters of ASCII without blanks; `here`: as it is, but for what no system takes. */
export type NameLevel = 'everywhere' | 'plain' | 'here';

/** Bytes of a name on Linux (NAME_MAX). */
const LONGEST_NAME_BYTES = 255;
/** Signs of a whole path that classic programs on Windows take, less "C:\\" and the closing NUL. Source: Microsoft's documentation of MAX_PATH (260). */
export const LONGEST_WINDOWS_PATH = 256;

/** One name, never empty, never hidden. Repeating it changes nothing. */
export function safeName(name: string, level: NameLevel): string {
  if (level === 'everywhere') return portableName(name);
  if (level === 'plain') return portableName(plain(name));
  const taken = [...name.toWellFormed()].map((sign) => (sign === '/' || sign < ' ' || sign === '\u007f' ? '_' : sign)).join('');
  const shown = taken.replace(/^\.+/, '_');
  if (shown === '') return 'unnamed';
  return utf8Length(shown) <= LONGEST_NAME_BYTES ? shown : portableName(shown);
}

const SPELLED: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  Æ: 'AE',
  ø: 'o',
  Ø: 'O',
  œ: 'oe',
  Œ: 'OE',
  đ: 'd',
  Đ: 'D',
  ł: 'l',
  Ł: 'L',
  þ: 'th',
  Þ: 'Th',
};

function plain(name: string): string {
  return name
    .replace(/[ßæÆøØœŒđĐłŁþÞ]/g, (sign) => SPELLED[sign]!)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9._-]+/g, '_');
}

/** Why `name` became `safe`, in words; none where it stayed. */
export function whyRenamed(name: string, safe: string): string[] {
  if (name === safe) return [];
  const why: string[] = [];
  if (/[<>:"/\\|?*%\u0000-\u001f\u007f]/.test(name)) why.push('signs that not every system takes');
  if (/^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³]) *(\.|$)/i.test(name)) why.push('a name reserved on Windows');
  if (/[. ]$/.test(name)) why.push('a dot or blank at the end');
  if (/^[.\s-]/.test(name)) why.push('a dot, blank or hyphen at the beginning');
  if (name !== name.normalize('NFC')) why.push('letters in two parts');
  if (utf8Length(name) > utf8Length(safe) && [...name].length > [...safe].length && why.length === 0) why.push('too long');
  if (/[^\x20-\x7e]/.test(name) && !/[^\x20-\x7e]/.test(safe)) why.push('plain letters');
  return why.length > 0 ? why : ['made portable'];
}
