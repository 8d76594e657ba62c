/** A timeline of cut files, as it must be where some of them could not be cut and were copied whole. */
import { isObject, type Json, type OtioObject } from '../interchange/otio/otio-types';
import { parseOtioText } from '../interchange/otio/otio-text';
import { formatOtio } from '../interchange/otio/otio-writer';
import { placeKey, type Place } from '../media/item';
import type { CutPart } from './plan';

/** `text` with the range of each reference to a file in `whole` set to the whole file. Everything else stays. */
export function withWholeParts(text: string, parts: readonly CutPart[], whole: readonly Place[]): string {
  const keys = new Set(whole.map(placeKey));
  const ranges = new Map(parts.filter((part) => keys.has(placeKey(part.to))).map((part) => [part.url, part.wholeRange]));
  if (ranges.size === 0) return text;
  const parsed = parseOtioText(text);
  return 'root' in parsed && isObject(parsed.root) ? formatOtio(patched(parsed.root, ranges) as OtioObject) : text;
}

function patched(node: Json, ranges: ReadonlyMap<string, OtioObject | null>): Json {
  if (Array.isArray(node)) return node.map((entry) => patched(entry, ranges));
  if (!isObject(node)) return node;
  const range = typeof node.target_url === 'string' ? ranges.get(node.target_url) : undefined;
  const entries = Object.entries(node).map(([key, value]): [string, Json] => [key, patched(value, ranges)]);
  return { ...Object.fromEntries(entries), ...(range === undefined ? {} : { available_range: range }) };
}
