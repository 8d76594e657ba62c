/** What the metadata of a clip says of its media, under whatever key an adapter keeps it. */
import type { ToldWords } from '../../project/clip';
import { ownMetadata } from './otio-values';
import { childrenOf, DEEPEST_NESTING, isObject, referencesOf, schemaName, type Json, type OtioObject } from './otio-types';

/** Keys by their letters alone, in small letters. */
const REEL_KEYS = /^(?:(?:source|camera|cam)?(?:reel|tape|roll)(?:name|id|number)?|cardname)$/;
const NAME_KEYS = /^(?:(?:source|original|media|master)?(?:file|clip)(?:name)?|(?:source|file|media|unc)?path|pathurl|sourcemedia|masterclip)$/;
/** Comments as lists write them, which adapters keep as they stand. */
const COMMENT =
  /^(?:\*\s*)?(SOURCE FILE|FROM FILE|FILE NAME|MEDIA FILE|CLIP NAME|FROM CLIP|(?:FULL |SOURCE )?REEL(?: NAME)?|TAPE(?: NAME)?)\s*:\s*(\S.*)$/i;

/** Keys are few and always the same: what each means is told once. */
const meanings = new Map<string, { readonly plain: string; readonly kind: 'reels' | 'names' | null }>();

function meaningOf(key: string): { readonly plain: string; readonly kind: 'reels' | 'names' | null } {
  const known = meanings.get(key);
  if (known) return known;
  const plain = key.toLowerCase().replace(/[^a-z]/g, '');
  const meaning = { plain, kind: REEL_KEYS.test(plain) ? ('reels' as const) : NAME_KEYS.test(plain) ? ('names' as const) : null };
  if (meanings.size < 10_000) meanings.set(key, meaning);
  return meaning;
}

const NOTHING_TOLD: ToldWords = { names: [], reels: [] };
const DEEPEST = 5;
const MOST_LOOKED_AT = 300;
const MOST_KEPT = 8;

/** Names and reels in the metadata of a clip and of its references; our own are read elsewhere. */
export function toldByMetadata(clip: OtioObject): ToldWords & { readonly isUnnamed?: boolean } {
  const look = new Look();
  look.metadata(clip);
  for (const { node } of referencesOf(clip)) look.metadata(node);
  // Our own word for an event that only bears the name of its reel.
  const isUnnamed = ownMetadata(clip).unnamed === true;
  if (!isUnnamed && look.names.size + look.reels.size === 0) return NOTHING_TOLD;
  return { names: [...look.names], reels: [...look.reels], ...(isUnnamed ? { isUnnamed } : {}) };
}

class Look {
  readonly names = new Set<string>();
  readonly reels = new Set<string>();
  private left = MOST_LOOKED_AT;

  metadata({ metadata }: OtioObject): void {
    if (!isObject(metadata)) return;
    for (const own of Object.keys(metadata)) if (own !== 'mill_shelf') this.at(own, metadata[own]!, '', 0);
  }

  /** {"reel": {"name": …}} and {"file": {"name": …}}: a mere name is that of what is around it. */
  private at(key: string, value: Json, around: string, depth: number): void {
    const { plain } = meaningOf(key);
    this.value(value, plain === 'name' ? around : plain, depth + 1);
  }

  private value(node: Json, key: string, depth: number): void {
    if (--this.left < 0 || depth > DEEPEST || node === null) return;
    if (typeof node === 'string') this.text(node.trim(), key);
    else if (typeof node === 'number') this.keep(meaningOf(key).kind, String(node));
    else if (Array.isArray(node)) for (const child of node) this.value(child, key, depth + 1);
    else if (isObject(node)) for (const own of Object.keys(node)) this.at(own, node[own]!, key, depth);
  }

  private text(words: string, key: string): void {
    const comment = words.includes(':') ? COMMENT.exec(words) : null;
    if (comment) this.keep(/REEL|TAPE/i.test(comment[1]!) ? 'reels' : 'names', comment[2]!);
    else this.keep(meaningOf(key).kind, words);
  }

  private keep(kind: 'names' | 'reels' | null, words: string): void {
    if (kind !== null && words !== '' && words.length <= 1024 && this[kind].size < MOST_KEPT) this[kind].add(words);
  }
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
