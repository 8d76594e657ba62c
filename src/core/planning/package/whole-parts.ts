/** A timeline of cut files, as it must be where some of them could not be cut and were copied whole. */
import { parseOtioText } from '../../interchange/otio/otio-text';
import { isObject, type Json, type OtioObject } from '../../interchange/otio/otio-types';
import { formatOtio, timeRange } from '../../interchange/otio/otio-writer';
import { placeKey, type Place } from '../../media/item';
import { floorToRate } from '../../time/convert';
import { rateFromNumber, sameRate } from '../../time/rate';
import type { CutPart } from '../plan/step';

/** `text` with the range of each reference to a file in `whole` set to the whole file. Everything else stays. */
export function withWholeParts(text: string, parts: readonly CutPart[], whole: readonly Place[]): string {
  const keys = new Set(whole.map(placeKey));
  const byUrl = new Map(parts.filter((part) => keys.has(placeKey(part.to))).map((part) => [part.url, part]));
  if (byUrl.size === 0) return text;
  const parsed = parseOtioText(text);
  return 'root' in parsed && isObject(parsed.root) ? formatOtio(patched(parsed.root, byUrl) as OtioObject) : text;
}

function patched(node: Json, byUrl: ReadonlyMap<string, CutPart>): Json {
  if (Array.isArray(node)) return node.map((entry) => patched(entry, byUrl));
  if (!isObject(node)) return node;
  const part = typeof node.target_url === 'string' ? byUrl.get(node.target_url) : undefined;
  const entries = Object.entries(node).map(([key, value]): [string, Json] => [key, patched(value, byUrl)]);
  if (!part) return Object.fromEntries(entries);
  const available_range = wholeRange(node.available_range, part, isByFrame(node));
  return { ...Object.fromEntries(entries), available_range, metadata: withoutPart(node.metadata, part) };
}

/** What is said of the source, of a file that holds all of what was to be cut. */
function withoutPart(metadata: Json | undefined, { startFrame, wholeFrames }: CutPart): Json {
  const own = isObject(metadata) && isObject(metadata.mill_shelf) ? metadata.mill_shelf : null;
  const said = own && isObject(own.source) ? own.source : null;
  if (!own || !said || typeof said.first_frame !== 'number') return metadata ?? null;
  const { first_frame, frames: _frames, of_frames: ofFrames, rate: ownRate, ...rest } = said;
  // Cut of a part: that is what was copied.
  const source =
    ofFrames === wholeFrames ? rest : { ...rest, first_frame: first_frame - startFrame, frames: wholeFrames, of_frames: ofFrames!, rate: ownRate! };
  return { ...(metadata as OtioObject), mill_shelf: { ...own, source } };
}

/** Frames found by their number are counted so at any rate. */
function isByFrame({ metadata }: OtioObject): boolean {
  return isObject(metadata) && isObject(metadata.mill_shelf) && metadata.mill_shelf.conform === 'by-frame';
}

/** The range of the part moved to where the file begins, counted as before; null where there was none. */
function wholeRange(range: Json | undefined, { startFrame, wholeFrames, rate }: CutPart, byFrame: boolean): OtioObject | null {
  const start = isObject(range) && isObject(range.start_time) ? range.start_time : null;
  if (!start || typeof start.value !== 'number' || typeof start.rate !== 'number') return null;
  const counted = rateFromNumber(start.rate);
  if (byFrame || sameRate(counted, rate)) return timeRange(start.value - startFrame, wholeFrames, counted);
  return timeRange(floorToRate(start.value, counted, rate) - startFrame, wholeFrames, rate);
}
