/** What timelines use in all: how many clips, how long their media is, how much of it they show. */
import { placeKey, type Item } from '../media/item';
import { isInParts, linksRead, sourceRendition, type Clip, type MediaLink } from '../project/clip';
import { ReadRanges } from '../project/read-ranges';
import { rowsIn } from '../project/reads';
import { clamp, totalFrames } from '../time/range';
import { RangeSets } from '../time/range-sets';
import { framesToSeconds } from '../time/convert';
import type { Snapshot, TimelineSnapshot } from '../planning/plan/snapshot';
import { stockOf } from '../planning/plan/stock-view';
import { framesRead, shiftRead } from '../planning/taking/event-use';
import { readIn } from '../planning/taking/part-read';
import { readsIn } from '../planning/taking/used-media';

/** Sums over all that a timeline reads, events that are switched off too. */
export interface TimelineSums {
  readonly clips: number;
  /** Length of all files it uses, and what of them it uses; files that are not there count nothing. */
  readonly mediaSeconds: number;
  readonly usedSeconds: number;
}

/** A clip with the number of the item that each of its links reads; -1 where nothing is there. */
interface Reader {
  readonly clip: Clip;
  readonly links: readonly MediaLink[];
  readonly items: readonly number[];
}

/** By timeline id, each for itself. */
export function sumTimelines(
  snapshot: Pick<Snapshot, 'clips' | 'items' | 'shelves' | 'retiredShelves' | 'project'>,
  timelines: readonly TimelineSnapshot[],
): Map<string, TimelineSums> {
  const stock = stockOf(snapshot);
  const items: Item[] = [];
  const numbers = new Map<string, number>();
  const numberOf = ({ place }: MediaLink): number => {
    const item = place ? stock.itemAt(place) : null;
    if (!item) return -1;
    const number = numbers.get(placeKey(item.place)) ?? items.push(item) - 1;
    numbers.set(placeKey(item.place), number);
    return number;
  };
  const readers = snapshot.clips.map((clip): Reader => {
    const links = sourceRendition(clip)?.links ?? [];
    if (isInParts(clip)) for (const part of clip.parts) numberOf(part.links[0]);
    return { clip, links, items: links.map(numberOf) };
  });
  const byClip = new Map(readers.map(({ clip }, number) => [clip.id, number]));
  // By item: its set of ranges in the timeline that is gone through.
  const sets = new Int32Array(items.length).fill(-1);
  let touched: number[] = [];
  let ranges = new RangeSets(0);
  let timelineId = '';
  const count = (item: number, start: number, end: number): void => {
    if (sets[item] === -1) sets[item] = touched.push(item) - 1;
    ranges.add(sets[item]!, start, end);
  };
  const pass = new ReadRanges(readers.length, {
    shift(reader, use, span) {
      const { clip, items: own } = readers[reader]!;
      return own.length === 1 && own[0]! >= 0 ? shiftRead({ clip, use, span }, items[own[0]!]!.facts) : null;
    },
    range: (reader, start, end) => count(readers[reader]!.items[0]!, start, end),
    each(reader, use, named, span) {
      const { clip, links, items: own } = readers[reader]!;
      // What stands for the clip on that track.
      const all = { timelineId, clip, use, named, span };
      // Figures hold whatever is plugged in.
      const read = isInParts(clip) ? readIn(all, stock, ({ links: [part] }) => numberOf(part) >= 0) : all;
      const [link] = linksRead(read.clip, use.trackKind === 'audio', named, stock);
      const item = !link ? -1 : read === all ? own[links.indexOf(link)]! : numberOf(link);
      if (item < 0) return;
      const { start, end } = framesRead(read, items[item]!.facts);
      count(item, start, end);
    },
  });
  return new Map(
    timelines.map((timeline) => {
      const reads = readsIn(timeline);
      const owners = Int32Array.from(reads.clipIds, (id) => byClip.get(id) ?? -1);
      const most = owners.reduce(
        (sum, reader) => sum + (reader < 0 ? 0 : readers[reader]!.items.length + (readers[reader]!.clip.parts?.length ?? 0)),
        0,
      );
      timelineId = timeline.id;
      touched = [];
      ranges = new RangeSets(most, rowsIn(reads) + 1);
      pass.tell(reads, owners, true);
      let [mediaSeconds, usedSeconds] = [0, 0];
      touched.forEach((item, set) => {
        sets[item] = -1;
        const { rate, durationFrames } = items[item]!.facts;
        if (!rate) return;
        const used = ranges.of(set);
        const inside = durationFrames === null ? used : clamp(used, { start: 0, end: durationFrames });
        mediaSeconds += framesToSeconds(durationFrames ?? totalFrames(used), rate);
        usedSeconds += framesToSeconds(totalFrames(inside), rate);
      });
      return [timeline.id, { clips: reads.clipIds.length, mediaSeconds, usedSeconds }];
    }),
  );
}
