/** Clips of a project, their renditions, and how each stands to the disks. */
import { comparePrints, isOfEveryByte } from '../media/fingerprint';
import type { Item, ItemKind, MediaFacts, Place } from '../media/item';
import type { PartWord } from '../interchange/otio/source-word';
import type { FrameRange } from '../time/range';
import type { Rate } from '../time/rate';
import { kindsRead, READ_AT_FIRST, type ReadOrder, type RenditionKind } from '../rendition/read-order';
import type { Made } from '../rendition/recipe';
import { floorFrames, type Moment } from './moment';

export type { RenditionKind };

/** What the project remembers of the file it linked, so that the file is known again anywhere. */
export interface Expected {
  readonly name: string;
  readonly sizeBytes: number | null;
  readonly fingerprint: string | null;
  readonly rate: Rate | null;
  readonly durationFrames: number | null;
  readonly startFrame: number | null;
  readonly reel: string | null;
  readonly kind: ItemKind | null;
  /** SHA-256 of every byte, where it was known; of a sequence what the checksums of all its frames make. */
  readonly sha256?: string | null;
  /** What else the timeline says of it that it may be found by; absent where it says no more. */
  readonly told?: ToldWords;
  /** How it was matched where nothing proves it; absent where it was linked by its address, by hand, or is proven. */
  readonly matchedBy?: MatchedBy;
  /** Of a file that holds some frames of a source: which, and the fingerprint of the whole; absent of a whole file. */
  readonly partOf?: PartWord & { readonly print: string | null; readonly position?: number };
}

/** Names and reels as a timeline gives them. */
export interface ToldWords {
  readonly names: readonly string[];
  readonly reels: readonly string[];
}

/** How a match was made, as people say it. */
export type MatchedBy = 'name and timecode' | 'file name' | 'reel and timecode' | 'reel' | 'timecode';

export interface MediaLink {
  readonly place: Place | null;
  /** The address as the timeline gave it; shown where no shelf is known. */
  readonly url: string;
  readonly expected: Expected;
  /** Where it is linked, while a copy that stands at `place` is read in its stead. */
  readonly linkedAt?: Place;
  /** A part that is read for the whole: what is said of the whole is not said of it. */
  readonly standsForWhole?: true;
  /** Equal for equal bytes; null or absent where not every byte was ever read. */
  readonly content?: string | null;
}

/** A file that holds some frames of a source. */
export interface Part {
  readonly id: string;
  readonly links: readonly [MediaLink];
  /** Which item of the source it is a part of. */
  readonly position: number;
  /** Frames of that item, half-open. */
  readonly range: FrameRange;
}

export interface Rendition {
  readonly id: string;
  readonly kind: RenditionKind;
  readonly links: readonly MediaLink[];
  /** How it was made here; absent for what came from elsewhere. */
  readonly made?: Made;
  /** Run that it came with, or the last one before it came by hand or with a timeline; absent where there was none. */
  readonly cameBy?: number;
  /** A later generation that is not read: an earlier one was gone back to. */
  readonly isSetBack?: true;
}

/** A rendition of a part: of its frames alone. */
export interface PartCopy extends Rendition {
  /** Position and frames of the part that it was made of. */
  readonly position: number;
  readonly range: FrameRange;
}

export interface Clip {
  readonly id: string;
  readonly name: string;
  readonly binPath: string;
  /** Where the timelines count the media's first frame; null when they did not say. */
  readonly mediaStart: Moment | null;
  readonly setAside: boolean;
  readonly renditions: readonly Rendition[];
  /** Parts of its source that are files of their own; absent where there are none. */
  readonly parts?: readonly Part[];
  /** Proxies and mezzanines of its parts; absent where there are none. */
  readonly partCopies?: readonly PartCopy[];
  /** What its source is known by in every house; absent: by its own id. */
  readonly sourceId?: string;
  readonly note: string;
  /** A word of CLIP_COLOURS, or empty. */
  readonly colour: string;
  /** In and out point of the clip itself, counted as its media; null for all of it. */
  readonly marks: ClipMarks | null;
  /** How events at another rate find its frames. */
  readonly conform: Conform;
  readonly madeBy: 'timeline' | 'list' | 'hand';
  /** What makes two events of any timeline uses of this clip. */
  readonly mediaKey: string;
}

/** Half-open, in units of `rate`; null where only the other mark is set. */
export interface ClipMarks {
  readonly inFrame: number | null;
  readonly outFrame: number | null;
  readonly rate: Rate;
}

export const CLIP_COLOURS = ['spruce', 'ochre', 'brick', 'dusk', 'plum'] as const;

/** How frames of an item at another rate than the event's are found: at the same time, or under the same number. */
export type Conform = 'by-time' | 'by-frame';

/** How one file stands to its link. */
/** `damaged`: a file stands there, and not all of it can be read. */
export type FileState = 'present' | 'unplugged' | 'missing' | 'changed' | 'damaged';
/** `by-proxy`: a light copy is read; `not-read`: only what lies behind the stop line of the read order is there. */
export type LinkState = FileState | 'set-aside' | 'by-proxy' | 'not-read';
export const LINK_STATES: readonly LinkState[] = ['present', 'unplugged', 'missing', 'changed', 'damaged', 'set-aside', 'by-proxy', 'not-read'];

/** What the state of a link goes by. */
export interface KnownLink {
  readonly place: Place | null;
  readonly expected: Pick<Expected, 'fingerprint' | 'sizeBytes' | 'kind'>;
  readonly content?: string | null;
}

/** What the state of a clip goes by. */
export interface KnownClip<Link extends KnownLink = KnownLink> {
  readonly setAside: boolean;
  /** Files that hold some frames of its source. */
  readonly parts?: readonly { readonly links: readonly Link[] }[];
  /** Renditions of those. */
  readonly partCopies?: readonly { readonly kind: RenditionKind; readonly links: readonly Link[] }[];
  readonly renditions: readonly { readonly kind: RenditionKind; readonly links: readonly Link[]; readonly isSetBack?: true }[];
}

export interface KnownItem {
  readonly sizeBytes: number;
  readonly fingerprint: string | null;
  /** Equal for equal bytes; null or absent where not every byte was ever read. */
  readonly content?: string | null;
  /** What of it cannot be read; absent where nothing is known. */
  readonly damage?: string;
  readonly facts: { readonly kind: ItemKind; readonly audio: { readonly length: number } };
}

/** What the core must know of the disks to judge a link, and in which order the project reads. */
export interface Stock {
  /** Absent: as at first. */
  readonly readOrder?: ReadOrder;
  isAttached(shelfId: string): boolean;
  /** The item standing at a place as the last stocktake saw it. */
  itemAt(place: Place): KnownItem | null;
}

/** What is remembered of a content beside the fingerprint: one that is all of it says enough. */
export function wholeSum(content: string | null | undefined): Pick<Expected, 'sha256'> {
  return !content || isOfEveryByte(content) ? {} : { sha256: content };
}

export function expectedFrom(item: Item, name: string): Expected {
  const facts: MediaFacts = item.facts;
  return {
    name,
    sizeBytes: item.sizeBytes,
    fingerprint: item.fingerprint,
    rate: facts.rate,
    durationFrames: facts.durationFrames,
    startFrame: facts.startFrame,
    reel: facts.reel,
    kind: facts.kind,
    ...wholeSum(item.content ?? item.sha256),
  };
}

/** Whether the item is, as far as is remembered, the very file that was linked: samples may be equal where the bytes are not. */
export function isExpected(item: KnownItem, { expected, content }: Pick<KnownLink, 'expected' | 'content'>): boolean {
  const samePrint = comparePrints(expected.fingerprint, item.fingerprint);
  if (samePrint && content && item.content) return content === item.content;
  return samePrint ?? (expected.sizeBytes === null || expected.sizeBytes === item.sizeBytes);
}

export function linkState(link: KnownLink, stock: Stock): FileState {
  if (!link.place) return 'missing';
  if (!stock.isAttached(link.place.shelfId)) return 'unplugged';
  const item = stock.itemAt(link.place);
  if (!item) return 'missing';
  // What became damaged has other bytes than it had: that it cannot be read says more.
  if (item.damage !== undefined) return 'damaged';
  return isExpected(item, link) ? 'present' : 'changed';
}

/** A rendition is as good as its worst item: all its items move and are missing together. */
export function renditionState(rendition: KnownClip['renditions'][number], stock: Stock): FileState {
  const states = rendition.links.map((link) => linkState(link, stock));
  return states.length === 0
    ? 'missing'
    : ((['missing', 'changed', 'damaged', 'unplugged'] as const).find((state) => states.includes(state)) ?? 'present');
}

/** State of a clip: of the first of its renditions, in read order, that is there. */
export function clipState(clip: KnownClip, stock: Stock): LinkState {
  const known = statesIn.get(stock) ?? new WeakMap<KnownClip, LinkState>();
  statesIn.set(stock, known);
  const state = known.get(clip) ?? newClipState(clip, stock);
  known.set(clip, state);
  return state;
}

/** Neither clips nor what is known of the stock ever change: told once, it holds. */
const statesIn = new WeakMap<Stock, WeakMap<KnownClip, LinkState>>();

/** The rendition of a kind that is read: the latest that is present and was not set back. */
export function latestOf<R extends KnownClip['renditions'][number]>(
  { renditions }: { readonly renditions: readonly R[] },
  kind: RenditionKind,
  stock: Stock,
): R | null {
  return renditions.findLast((own) => own.kind === kind && !own.isSetBack && renditionState(own, stock) === 'present') ?? null;
}

/** Like `latestOf`, or else the latest that is known, present or not. */
export function shownOf<R extends KnownClip['renditions'][number]>(
  clip: { readonly renditions: readonly R[] },
  kind: RenditionKind,
  stock: Stock,
): R | null {
  const own = (isSetBack: boolean) => clip.renditions.findLast((one) => one.kind === kind && (one.isSetBack ?? false) === isSetBack);
  return latestOf(clip, kind, stock) ?? own(false) ?? own(true) ?? null;
}

/** Which of its renditions stands for a clip, if any is there. */
export function renditionRead<R extends KnownClip['renditions'][number]>(clip: { readonly renditions: readonly R[] }, stock: Stock): R | null {
  for (const kind of kindsRead(stock.readOrder ?? READ_AT_FIRST)) {
    const read = latestOf(clip, kind, stock);
    if (read) return read;
    // Sound and stills are their own light copies.
    if (kind === 'proxy') {
      const own = clip.renditions.find((rendition) => rendition.kind === 'source' && isItsOwnProxy(rendition, stock));
      if (own && renditionState(own, stock) === 'present') return own;
    }
  }
  return null;
}

function isItsOwnProxy({ links }: KnownClip['renditions'][number], stock: Stock): boolean {
  const kindOf = ({ place, expected }: KnownLink) => (place ? stock.itemAt(place) : null)?.facts.kind ?? expected.kind;
  return links.length > 0 && links.every((link) => ['audio', 'still'].includes(kindOf(link) ?? ''));
}

function newClipState(clip: KnownClip, stock: Stock): LinkState {
  const read = renditionRead(clip, stock);
  if (read) return read.kind === 'proxy' ? 'by-proxy' : 'present';
  if (clip.setAside) return 'set-aside';
  if (clip.renditions.some((rendition) => renditionState(rendition, stock) === 'present')) return 'not-read';
  // What is read of it then is told event by event: not all of it need be there.
  const held = kindsOfParts(clip, stock);
  const kind = kindsRead(stock.readOrder ?? READ_AT_FIRST).find((own) => held.has(own));
  if (kind) return kind === 'proxy' ? 'by-proxy' : 'present';
  return held.size > 0 ? 'not-read' : sourceAlone(clip, stock);
}

/** Of which kinds some frames of its source stand there, as parts or made of parts. */
function kindsOfParts({ parts = [], partCopies = [] }: KnownClip, stock: Stock): ReadonlySet<RenditionKind> {
  const all = [...parts.map((part) => ({ kind: 'source' as const, ...part })), ...partCopies];
  return new Set(all.flatMap((own) => (renditionState(own, stock) === 'present' ? [own.kind] : [])));
}

/** State of the source alone, whatever stands in for it: for what is taken from it, and for finding it again. */
export function sourceState(clip: KnownClip, stock: Stock): FileState | 'set-aside' {
  const state = sourceAlone(clip, stock);
  return state !== 'present' && clip.setAside ? 'set-aside' : state;
}

/** Of a source that was never here whole, as its parts stand: they come with their drive. */
function sourceAlone(clip: KnownClip, stock: Stock): FileState {
  const source = sourceRendition(clip);
  const state = source ? renditionState(source, stock) : 'missing';
  const isAway =
    state === 'missing' && isInParts(clip) && clip.parts.some(({ links }) => links.some((link) => linkState(link, stock) === 'unplugged'));
  return isAway ? 'unplugged' : state;
}

/** Whether nothing is known of the whole source but what its parts say of it. */
export function isInParts<C extends KnownClip>(clip: C): clip is C & Required<Pick<C, 'parts'>> {
  return (clip.parts ?? []).length > 0 && (sourceRendition(clip)?.links.every(({ place }) => place === null) ?? false);
}

export function isOfPart(copy: Pick<Part, 'position' | 'range'>, part: Pick<Part, 'position' | 'range'>): boolean {
  return copy.position === part.position && copy.range.start === part.range.start && copy.range.end === part.range.end;
}

/** The clip's media cannot be read now, for whatever reason; every figure and filter goes by this. */
export function isOffline(state: LinkState): boolean {
  return state !== 'present' && state !== 'by-proxy';
}

export function sourceRendition<R extends KnownClip['renditions'][number]>(clip: { readonly renditions: readonly R[] }): R | null {
  return clip.renditions.find((rendition) => rendition.kind === 'source') ?? clip.renditions[0] ?? null;
}

/** The first item of the source: the picture, where there is one. */
export function sourceLink<Link extends KnownLink>(clip: KnownClip<Link>): Link | null {
  return sourceRendition(clip)?.links[0] ?? null;
}

/**
 * Items of the source that an event reads: on a sound track those that carry sound, otherwise those that carry
 * picture. `named`: position of the item the event itself names, which wins where it carries that kind.
 */
export function linksRead<Link extends KnownLink>(clip: KnownClip<Link>, sound: boolean, named: number | null, stock: Stock): readonly Link[] {
  return linksReadOf(sourceRendition(clip)?.links ?? [], sound, named, stock);
}

/** The same of the links of any rendition. */
export function linksReadOf<Link extends KnownLink>(links: readonly Link[], sound: boolean, named: number | null, stock: Stock): readonly Link[] {
  if (links.length <= 1) return links;
  const carries = (link: Link | undefined): boolean => {
    if (!link) return false;
    const facts = (link.place ? stock.itemAt(link.place) : null)?.facts;
    const kind = facts?.kind ?? link.expected.kind;
    return sound ? kind === 'audio' || (facts?.audio.length ?? 0) > 0 : kind !== 'audio';
  };
  if (named !== null && carries(links[named])) return [links[named]!];
  const fitting = links.filter(carries);
  return fitting.length > 0 ? fitting : links.slice(0, 1);
}

/**
 * Where events of a clip that count its media from `start` count one of its items. The sound of a recording may begin
 * up to a frame beside its picture: there the sound's own timecode is exact.
 */
export function soundStart(clip: Clip, start: Moment, facts: Pick<MediaFacts, 'kind' | 'startFrame' | 'rate'>): Moment {
  const several = (sourceRendition(clip)?.links.length ?? 0) > 1;
  if (!several || facts.kind !== 'audio' || facts.startFrame === null || facts.rate === null) return start;
  const near = Math.abs(floorFrames({ value: facts.startFrame, rate: facts.rate }, start.rate) - start.value) <= 1;
  return near ? { value: facts.startFrame, rate: facts.rate } : start;
}
