/** What the metadata of a clip says of its media, under whatever key an adapter keeps it. */
import type { ToldWords } from '../../project/clip';
import { childrenOf, DEEPEST_NESTING, isObject, referencesOf, schemaName, type Json, type OtioObject } from './otio-types';

/** Keys by their letters alone, in small letters. */
const REEL_KEYS = /^(?:(?:source|camera|cam)?(?:reel|tape|roll)(?:name|id|number)?|cardname)$/;
const NAME_KEYS = /^(?:(?:source|original|media|master)?(?:file|clip)(?:name)?|(?:source|file|media|unc)?path|pathurl|sourcemedia|masterclip)$/;
/** Comments as lists write them, which adapters keep as they stand. */
const COMMENT =
  /^(?:\*\s*)?(SOURCE FILE|FROM FILE|FILE NAME|MEDIA FILE|CLIP NAME|FROM CLIP|(?:FULL |SOURCE )?REEL(?: NAME)?|TAPE(?: NAME)?)\s*:\s*(\S.*)$/i;

const DEEPEST = 5;
const MOST_LOOKED_AT = 300;
const MOST_KEPT = 8;

/** Names and reels in the metadata of a clip and of its references; our own are read elsewhere. */
export function toldByMetadata(clip: OtioObject): ToldWords {
  const found = { names: new Set<string>(), reels: new Set<string>() };
  let left = MOST_LOOKED_AT;
  const keep = (kind: 'names' | 'reels', value: Json) => {
    const words = typeof value === 'string' ? value.trim() : typeof value === 'number' ? String(value) : '';
    if (words !== '' && words.length <= 1024 && found[kind].size < MOST_KEPT) found[kind].add(words);
  };
  const look = (node: Json, key: string, depth: number): void => {
    if (--left < 0 || depth > DEEPEST) return;
    if (typeof node === 'string' || typeof node === 'number') {
      const comment = typeof node === 'string' ? COMMENT.exec(node.trim()) : null;
      if (comment) keep(/REEL|TAPE/i.test(comment[1]!) ? 'reels' : 'names', comment[2]!);
      else if (REEL_KEYS.test(key)) keep('reels', node);
      else if (NAME_KEYS.test(key)) keep('names', node);
    } else if (Array.isArray(node)) for (const child of node) look(child, key, depth + 1);
    else if (isObject(node)) for (const own of Object.keys(node)) lookInto(own, node[own]!, key, depth);
  };
  const lookInto = (own: string, value: Json, around: string, depth: number): void => {
    const plain = own.toLowerCase().replace(/[^a-z]/g, '');
    // {"reel": {"name": …}}, {"file": {"name": …}}
    look(value, plain === 'name' ? around : plain, depth + 1);
  };
  for (const node of [clip, ...referencesOf(clip).map((reference) => reference.node)])
    if (isObject(node.metadata)) for (const own of Object.keys(node.metadata)) if (own !== 'mill_shelf') lookInto(own, node.metadata[own]!, '', 0);
  return { names: [...found.names], reels: [...found.reels] };
}

/** Every clip of a document in the order in which the reader numbers their events. */
export function* clipObjects(document: OtioObject): Generator<OtioObject> {
  if (schemaName(document) === 'Clip') yield document;
  else if (isObject(document.tracks)) yield* inStack(document.tracks, 0);
}

function* inStack(node: OtioObject, depth: number): Generator<OtioObject> {
  if (depth > DEEPEST_NESTING) return;
  for (const child of childrenOf(node)) {
    if (isObject(child) && schemaName(child) === 'Track') yield* inTrack(child, depth);
    else yield* inItem(child, depth);
  }
}

function* inTrack(node: OtioObject, depth: number): Generator<OtioObject> {
  for (const child of childrenOf(node)) yield* inItem(child, depth);
}

/** The same steps as the reader takes, down to the same depth. */
function* inItem(node: Json, depth: number): Generator<OtioObject> {
  if (!isObject(node)) return;
  switch (schemaName(node)) {
    case 'Clip':
      yield node;
      return;
    case 'Timeline':
      yield* inStack(isObject(node.tracks) ? node.tracks : node, depth + 1);
      return;
    case 'Stack':
      yield* inStack(node, depth + 1);
      return;
    case 'Track':
      if (depth + 1 <= DEEPEST_NESTING) yield* inTrack(node, depth + 1);
  }
}
