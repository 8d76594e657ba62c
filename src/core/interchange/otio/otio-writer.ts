/** OTIO JSON out: a kept document with new media references, or a document built from parts. */
import { rateAsNumber, type Rate } from '../../time/rate';
import { sourceReference } from '../../rendition/reference-keys';
import { formatJson } from './otio-text';
import { childrenOf, DEEPEST_NESTING, isObject, referencesOf, schemaName, type Json, type OtioObject } from './otio-types';

/** Two spaces would be smaller; four is what the reference library writes, so diffs between tools stay readable. */
export function formatOtio(document: OtioObject): string {
  return `${formatJson(document)}\n`;
}

export function rationalTime(value: number, r: Rate): OtioObject {
  return { OTIO_SCHEMA: 'RationalTime.1', rate: rateAsNumber(r), value };
}

/** `startFrame` inclusive, length `durationFrames`, both at `r`. */
export function timeRange(startFrame: number, durationFrames: number, r: Rate): OtioObject {
  return { OTIO_SCHEMA: 'TimeRange.1', duration: rationalTime(durationFrames, r), start_time: rationalTime(startFrame, r) };
}

/**
 * A copy of a timeline's document in which the media reference of the source of clip event `index` is what `replace`
 * returns; null keeps the old one. It is the active one then, unless `also` is given: that adds references of other
 * renditions by their keys, and the active one stays so. Everything else, source ranges and metadata included, is the
 * same. Events are numbered in document order, as the reader numbers them. `alone`: what is replaced has no other reference
 * beside it any more, as those were renditions of the old one.
 */
export function withReferences(document: OtioObject, replace: ReplaceReference, also: AlsoReferences | null = null, alone = false): OtioObject {
  return withClips(document, (index, clip) => withReference(clip, index, replace, also, alone));
}

/** A copy of a timeline's document in which each clip event is what `replace` returns. Numbered as the reader numbers them. */
export function withClips(document: OtioObject, replace: (index: number, clip: OtioObject) => OtioObject): OtioObject {
  let index = 0;
  // The same steps as the reader takes, down to the same depth: otherwise the numbers would not fit.
  const item = (node: Json, depth: number): Json => {
    if (!isObject(node)) return node;
    switch (schemaName(node)) {
      case 'Clip':
        return replace(index++, node);
      case 'Timeline':
        return isObject(node.tracks) ? { ...node, tracks: stack(node.tracks, depth + 1) } : stack(node, depth + 1);
      case 'Stack':
        return stack(node, depth + 1);
      case 'Track':
        return depth + 1 > DEEPEST_NESTING ? node : track(node, depth + 1);
      default:
        return node;
    }
  };
  const track = (node: OtioObject, depth: number): OtioObject => ({ ...node, children: childrenOf(node).map((child) => item(child, depth)) });
  const stack = (node: OtioObject, depth: number): OtioObject => {
    if (depth > DEEPEST_NESTING || !Array.isArray(node.children)) return node;
    const inside = (child: Json) => (isObject(child) && schemaName(child) === 'Track' ? track(child, depth) : item(child, depth));
    return { ...node, children: node.children.map(inside) };
  };
  if (schemaName(document) === 'Clip') return replace(index++, document);
  return isObject(document.tracks) ? { ...document, tracks: stack(document.tracks, 0) } : document;
}

type ReplaceReference = (index: number, old: OtioObject | null) => OtioObject | null;
/** `known`: references of the clip by their keys; `source`: its source as it is now. */
export type AlsoReferences = (
  index: number,
  known: Readonly<Record<string, OtioObject>>,
  source: OtioObject | null,
) => Readonly<Record<string, OtioObject>>;

function withReference(clip: OtioObject, index: number, replace: ReplaceReference, also: AlsoReferences | null, alone: boolean): OtioObject {
  const references = referencesOf(clip);
  const wanted = typeof clip.active_media_reference_key === 'string' ? clip.active_media_reference_key : 'DEFAULT_MEDIA';
  const own = sourceReference(references, wanted);
  const made = replace(index, own?.node ?? null);
  const known = Object.fromEntries(references.map((reference) => [reference.key, reference.node]));
  const more = also?.(index, known, made ?? own?.node ?? null) ?? {};
  if (!made && Object.keys(more).length === 0) return clip;
  const { media_reference: _old, ...rest } = clip;
  if (made && alone)
    return { ...rest, OTIO_SCHEMA: 'Clip.2', media_references: { DEFAULT_MEDIA: made }, active_media_reference_key: 'DEFAULT_MEDIA' };
  const key = own?.key ?? wanted;
  // The source stands under its key, whatever that is called.
  const all: OtioObject = { ...known, ...more, ...(own ? { [key]: own.node } : {}), ...(made ? { [key]: made } : {}) };
  return {
    ...rest,
    OTIO_SCHEMA: 'Clip.2',
    media_references: all,
    active_media_reference_key: also && wanted in all ? wanted : key,
  };
}

export function externalReference(url: string, name: string, available: OtioObject | null, metadata: OtioObject = {}): OtioObject {
  return { OTIO_SCHEMA: 'ExternalReference.1', metadata, name, available_range: available, available_image_bounds: null, target_url: url };
}

export interface SequenceParts {
  readonly folderUrl: string;
  readonly prefix: string;
  readonly suffix: string;
  readonly padding: number;
  readonly startNumber: number;
  /** Every how manieth number is a frame; 1 where it is not said. */
  readonly step?: number;
  readonly rate: Rate;
}

export function sequenceReference(parts: SequenceParts, name: string, available: OtioObject, metadata: OtioObject = {}): OtioObject {
  return {
    OTIO_SCHEMA: 'ImageSequenceReference.1',
    metadata,
    name,
    available_range: available,
    available_image_bounds: null,
    target_url_base: parts.folderUrl.endsWith('/') ? parts.folderUrl : `${parts.folderUrl}/`,
    name_prefix: parts.prefix,
    name_suffix: parts.suffix,
    start_frame: parts.startNumber,
    frame_step: parts.step ?? 1,
    rate: rateAsNumber(parts.rate),
    frame_zero_padding: parts.padding,
    missing_frame_policy: 'error',
  };
}

/**
 * `made` in the place of an older reference: what it does not speak of stays (image bounds, the policy for missing
 * frames, fields that only others know). Fields of another schema do not go along.
 */
export function inPlaceOf(old: OtioObject | null, made: OtioObject): OtioObject {
  if (!old) return made;
  const kept = { available_image_bounds: old.available_image_bounds ?? null };
  if (schemaName(old) !== schemaName(made)) return { ...made, ...kept };
  const policy: OtioObject =
    made.missing_frame_policy === undefined ? {} : { missing_frame_policy: old.missing_frame_policy ?? made.missing_frame_policy };
  return { ...old, ...made, ...kept, ...policy };
}

export function timelineDocument(name: string, start: OtioObject | null, tracks: Json[], metadata: OtioObject = {}): OtioObject {
  const stack: OtioObject = {
    OTIO_SCHEMA: 'Stack.1',
    metadata: {},
    name: 'tracks',
    source_range: null,
    effects: [],
    markers: [],
    enabled: true,
    children: tracks,
  };
  return { OTIO_SCHEMA: 'Timeline.1', metadata, name, global_start_time: start, tracks: stack };
}

export function trackDocument(name: string, kind: 'Video' | 'Audio', children: Json[]): OtioObject {
  return { OTIO_SCHEMA: 'Track.1', metadata: {}, name, source_range: null, effects: [], markers: [], enabled: true, children, kind };
}

export function clipDocument(
  name: string,
  sourceRange: OtioObject | null,
  reference: OtioObject,
  effects: Json[] = [],
  metadata: OtioObject = {},
): OtioObject {
  return {
    OTIO_SCHEMA: 'Clip.2',
    metadata,
    name,
    source_range: sourceRange,
    effects,
    markers: [],
    enabled: true,
    media_references: { DEFAULT_MEDIA: reference },
    active_media_reference_key: 'DEFAULT_MEDIA',
  };
}

export function gapDocument(durationFrames: number, r: Rate): OtioObject {
  return { OTIO_SCHEMA: 'Gap.1', metadata: {}, name: '', source_range: timeRange(0, durationFrames, r), effects: [], markers: [], enabled: true };
}

export function transitionDocument(inFrames: number, outFrames: number, r: Rate, type = 'SMPTE_Dissolve', metadata: OtioObject = {}): OtioObject {
  return {
    OTIO_SCHEMA: 'Transition.1',
    metadata,
    name: '',
    in_offset: rationalTime(inFrames, r),
    out_offset: rationalTime(outFrames, r),
    transition_type: type,
  };
}

export function timeWarp(scalar: number): OtioObject {
  return scalar === 0
    ? { OTIO_SCHEMA: 'FreezeFrame.1', metadata: {}, name: '', effect_name: 'FreezeFrame', enabled: true, time_scalar: 0 }
    : { OTIO_SCHEMA: 'LinearTimeWarp.1', metadata: {}, name: '', effect_name: 'LinearTimeWarp', enabled: true, time_scalar: scalar };
}

/** Colours that the schema of a marker names. */
export const MARKER_COLOURS: readonly string[] = ['PINK', 'RED', 'ORANGE', 'YELLOW', 'GREEN', 'CYAN', 'BLUE', 'PURPLE', 'MAGENTA', 'BLACK', 'WHITE'];

export function markerDocument(name: string, range: OtioObject, colour: string, comment = '', metadata: OtioObject = {}): OtioObject {
  return { OTIO_SCHEMA: 'Marker.2', metadata, name, color: colour, marked_range: range, comment };
}
