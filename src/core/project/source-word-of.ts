/** What a timeline says of the source of a clip whose file it leads to. */
import type { PartWord, SourceWord } from '../interchange/otio/source-word';
import { fileName, samePlace, type Item } from '../media/item';
import { totalFrames, type FrameRange } from '../time/range';
import type { Rate } from '../time/rate';
import { sourceRendition, type Clip, type Part } from './clip';

/**
 * `item`: what the clip reads; `range`: its frames that the new file holds, null for all; `file`: name of the file, or what
 * the names of its frames begin with; `units`: at which its frames are counted where that is not its own rate. A part of a part is a part of the source.
 */
export function sourceWordOf(clip: Clip, item: Item, range: FrameRange | null, file: string, units: Rate | null): SourceWord {
  const links = sourceRendition(clip)?.links ?? [];
  const position = Math.max(0, links.findIndex(({ place }) => samePlace(place, item.place))); // prettier-ignore
  const own = clip.parts?.find(({ links: [link] }) => samePlace(link.place, item.place));
  const of = own ? partWordOf(own) : links[position]?.expected.partOf;
  const print = (own ? own.links[0].expected.partOf?.print : of ? links[position]?.expected.partOf?.print : item.fingerprint) ?? null;
  const part = partWithin(item, range, of ?? null, units);
  return { id: clip.sourceId ?? clip.id, file, position: own?.position ?? links[position]?.expected.partOf?.position ?? position, print, part };
}

function partWordOf({ links: [link] }: Part): PartWord | undefined {
  return link.expected.partOf;
}

function partWithin({ place, facts }: Item, range: FrameRange | null, of: PartWord | null, units: Rate | null): PartWord | null {
  const { durationFrames } = facts;
  const rate = units === null ? facts.rate : units;
  if (durationFrames === null || rate === null) return of;
  const isWhole = range === null || totalFrames([range]) >= durationFrames;
  if (!of) return isWhole ? null : { range, ofFrames: durationFrames, rate, of: fileName(place.path) };
  if (isWhole) return of;
  return { ...of, range: { start: of.range.start + range.start, end: of.range.start + range.end } };
}
