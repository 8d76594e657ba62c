/** What a list says of the source of an event: reel, file, and what its timecode is counted in. */
import type { EdlSource } from '../../interchange/edl/edl-writer';
import type { SourceCounting } from '../../interchange/edl/source-read';
import { chosenCount } from '../../interchange/otio/counted-clip';
import { ownMetadata } from '../../interchange/otio/otio-values';
import { readAddress } from '../../interchange/otio/target-url';
import { mediaOf } from '../../matching/sources';
import type { MediaFacts } from '../../media/item';
import { splitExtension } from '../../naming/safe-name';
import type { Clip, MediaLink } from '../../project/clip';
import { countsFrom, unstatedSpans } from '../../project/counting';
import { floorFrames } from '../../project/moment';
import type { SourceCount } from '../../project/source-count';
import type { ClipEvent } from '../../project/timeline';
import { sameRate } from '../../time/rate';
import type { TimelineSnapshot } from '../plan/snapshot';

/** What an event reads; `facts` null where no file is known. */
export interface EventMedia {
  readonly clip: Clip | null;
  readonly link: MediaLink | null;
  readonly facts: MediaFacts | null;
  readonly isSound: boolean;
}

/**
 * The reel and file that the timeline came with, so that it is read where it came from; else the reel the file carries, or
 * its own name. Source timecode is the file's, wherever the edit counts from. `wished`: how sources at other rates are
 * counted in this export; null: as is set for the event or its timeline.
 */
export function listSource(timeline: TimelineSnapshot, event: ClipEvent, media: EventMedia, wished: SourceCount | null): EdlSource {
  const { clip, link, facts } = media;
  const told = link?.expected.told;
  const named = mediaOf(event);
  const file = told && named?.url && !named.sequence ? (readAddress(named.url)?.segments.at(-1) ?? '') : (link?.expected.name ?? '');
  const own = facts?.startFrame ?? null;
  const span = clip ? (unstatedSpans(timeline.model, timeline.clipIds).get(clip.id) ?? null) : null;
  const counted = clip && facts ? countsFrom(event, clip, facts, span) : null;
  const count = countOf(timeline, event, media, wished);
  const rate = count?.rate ?? timeline.model.rate;
  const from = counted && (count?.isByFrame ? counted.value : floorFrames(counted, rate));
  const inFile = from !== null && own !== null && facts?.rate ? floorFrames({ value: own, rate: facts.rate }, rate) - from : 0;
  return {
    reel: named?.reel ?? told?.reels[0] ?? facts?.reel ?? link?.expected.reel ?? (file ? splitExtension(file)[0] : (clip?.name ?? null)),
    file,
    offsetFrames: inFile,
    ...(count ? { count } : {}),
  };
}

/** Null where that is the count of the list. */
function countOf(
  { model, document }: TimelineSnapshot,
  event: ClipEvent,
  { clip, facts, isSound }: EventMedia,
  wished: SourceCount | null,
): SourceCounting | null {
  if (!clip || !facts) return null;
  const { kind, rate, dropFrame, steadyRate } = facts;
  const count = wished ?? event.count?.chosen ?? chosenCount(ownMetadata(document)) ?? 'source';
  if (count === 'list' || kind !== 'video' || rate === null || steadyRate === false || sameRate(rate, model.rate)) return null;
  return { rate, dropFrame, isByFrame: clip.conform === 'by-frame' && !isSound && sameRate(event.units, model.rate) };
}
