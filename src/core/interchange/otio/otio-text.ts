/** From the text of an .otio file to its JSON: what JavaScript would round or break is kept or refused. */
import { stops, type Finding } from '../../words/finding';
import { gaugeOf } from '../json-gauge';
import { isObject, type Json, type OtioObject } from './otio-types';

/** Marks a number that a double or JSON cannot hold: it is kept as text and written out as it came. */
const BIG_NUMBER = '\\u0000int:';
const BIG_NUMBER_OUT = /"\\u0000int:(-?(?:\d[\d.eE+-]*|NaN|Inf(?:inity)?))"/g;
/** Numbers, and the words that the reference library writes where a value is none. */
const NUMBERS = /-?(?:\d+(?:\.\d+)?(?:[eE][+-]?\d+)?|NaN|Infinity|Inf\b)/g;
/** Objects that shared references may grow a document to. */
const MOST_OBJECTS = 2_000_000;
/** Objects and lists within each other; 64 levels of nested timelines take about 260. */
export const DEEPEST_JSON = 1000;

export type ParsedText = { readonly root: unknown } | { readonly finding: Finding };

/** Never throws. Shared objects (OTIO_REF_ID and SerializableObjectRef) are written out where they are used. */
export function parseOtioText(text: string): ParsedText {
  const clean = text.charCodeAt(0) === 0xfeff ? text.slice(1) : text;
  // Before memory is spent on it.
  const { isTooDeep, gauge } = gaugeOf(clean, DEEPEST_JSON);
  if (isTooDeep)
    return {
      finding: stops('otio-too-deep', `The file is nested more than ${DEEPEST_JSON} levels deep.`, 'Flatten the nesting and export again.', '$'),
    };
  let root: unknown;
  try {
    root = parseNumbers(clean, gauge.hasBigNumber);
  } catch (error) {
    return { finding: jsonFinding(clean, error) };
  }
  const broken = gauge.hasEscape && /\\u[dD][89a-fA-F]/.test(clean) ? brokenText(root as Json, '$') : null;
  if (broken !== null) {
    const message = 'A text holds half of a character (a lone surrogate): no file could be named like that.';
    return { finding: stops('otio-broken-text', message, 'Correct the name in the tool it comes from and export again.', broken) };
  }
  // The second is looked for only where the first is: what begins with a quotation mark is slow to find among so many.
  return clean.includes('REF_ID') && clean.includes('"OTIO_REF_ID"') ? resolveShared(root as Json) : { root };
}

/** JSON text of a document, numbers that were kept as text included. */
export function formatJson(document: OtioObject): string {
  return JSON.stringify(document, null, 4).replace(BIG_NUMBER_OUT, '$1');
}

/** JSON, and beside it the words for what is no number. Throws as JSON.parse does. */
function parseNumbers(text: string, hasBigNumber: boolean): unknown {
  if (hasBigNumber) return JSON.parse(keepNumbers(text));
  try {
    return JSON.parse(text);
  } catch (error) {
    // Looked for only where there is no other way: few files have them.
    if (!/NaN|Inf/.test(text)) throw error;
    try {
      return JSON.parse(keepNumbers(text));
    } catch {
      throw error;
    }
  }
}

/** Text by text: an expression that goes through all of them at once runs out of room on a long one. */
function keepNumbers(text: string): string {
  const out: string[] = [];
  for (let at = 0; at < text.length;) {
    const begin = text.indexOf('"', at);
    const upTo = begin < 0 ? text.length : begin;
    out.push(text.slice(at, upTo).replace(NUMBERS, keptNumber));
    if (begin < 0) break;
    let end = text.indexOf('"', begin + 1);
    while (end >= 0 && isEscaped(text, end)) end = text.indexOf('"', end + 1);
    at = end < 0 ? text.length : end + 1;
    out.push(text.slice(begin, at));
  }
  return out.join('');
}

function isEscaped(text: string, at: number): boolean {
  let strokes = 0;
  while (text[at - 1 - strokes] === '\\') strokes++;
  return strokes % 2 === 1;
}

function keptNumber(token: string): string {
  const isRounded = /^-?\d{16,}$/.test(token) && String(Number(token)) !== token;
  return isRounded || !Number.isFinite(Number(token)) ? `"${BIG_NUMBER}${token}"` : token;
}

/** JSON path of the first text that is no well-formed Unicode; null when all are. */
function brokenText(node: Json, path: string): string | null {
  if (typeof node === 'string') return node.isWellFormed() ? null : path;
  if (typeof node !== 'object' || node === null) return null;
  for (const [key, value] of Object.entries(node)) {
    const step = Array.isArray(node) ? `[${key}]` : `.${key}`;
    if (!key.isWellFormed()) return path;
    const found = brokenText(value, `${path}${step}`);
    if (found !== null) return found;
  }
  return null;
}

class SharedError extends Error {}

function resolveShared(root: Json): ParsedText {
  const shared = new Map<string, OtioObject>();
  const gather = (node: Json): void => {
    if (typeof node !== 'object' || node === null) return;
    if (isObject(node) && typeof node.OTIO_REF_ID === 'string') shared.set(node.OTIO_REF_ID, node);
    Object.values(node).forEach(gather);
  };
  let objects = 0;
  const open = new Set<string>();
  const copy = (node: Json): Json => {
    if (typeof node !== 'object' || node === null) return node;
    if (++objects > MOST_OBJECTS) throw new SharedError('Its shared objects would grow it beyond measure.');
    if (Array.isArray(node)) return node.map(copy);
    const wanted = typeof node.OTIO_SCHEMA === 'string' && node.OTIO_SCHEMA.startsWith('SerializableObjectRef.') ? node.id : undefined;
    const target = typeof wanted === 'string' ? shared.get(wanted) : node;
    if (!target) throw new SharedError(`It refers to ${JSON.stringify(wanted)}, which is not in it.`);
    const { OTIO_REF_ID: id, ...rest } = target;
    const name = typeof id === 'string' ? id : null;
    if (name !== null && open.has(name)) throw new SharedError(`"${name}" contains itself.`);
    if (name !== null) open.add(name);
    const made = Object.fromEntries(Object.entries(rest).map(([key, value]) => [key, copy(value)]));
    if (name !== null) open.delete(name);
    return made;
  };
  try {
    gather(root);
    return { root: copy(root) };
  } catch (error) {
    const message = error instanceof SharedError ? error.message : 'It is nested too deeply.';
    return { finding: stops('otio-shared', `The document cannot be unfolded. ${message}`, 'Export the timeline again.', '$') };
  }
}

function jsonFinding(text: string, error: unknown): Finding {
  const message = error instanceof Error ? error.message : String(error);
  if (error instanceof RangeError)
    return stops('otio-too-deep', 'The file is nested too deeply to be read.', 'Flatten the nesting and export again.', '$');
  const at = errorPosition(text, message);
  const before = text.slice(0, at).split('\n');
  const where = `line ${before.length}, column ${before.at(-1)!.length + 1}`;
  if (/end of JSON|Unterminated/i.test(message) || at >= text.trimEnd().length) {
    return stops(
      'otio-truncated',
      'The file ends in the middle: it is only part of an OTIO document.',
      'Export the timeline again, or copy the file again.',
      where,
    );
  }
  return stops(
    'otio-not-json',
    'This is not OTIO: the text is not JSON.',
    'Choose a file written as OpenTimelineIO (.otio) or a CMX 3600 list (.edl).',
    where,
  );
}

/** Where the parser stopped: it tells a position, or quotes the text around it, or (at the end) neither. */
function errorPosition(text: string, message: string): number {
  const position = /position (\d+)/.exec(message);
  if (position) return Number(position[1]);
  const quoted = /^Unexpected token '(.*?)', (?:\.\.\.)?"(.*)"(?:\.\.\.)? is not valid JSON$/s.exec(message);
  if (!quoted) return text.length;
  const begin = Math.max(0, text.indexOf(quoted[2]!));
  return begin + Math.max(0, quoted[2]!.indexOf(quoted[1]!));
}
