/** Timelines that were not chosen and would lose something if only what is taken were kept. */
import { placeKey } from '../../media/item';
import { linksRead, sourceRendition, sourceState } from '../../project/clip';
import { ReadRanges } from '../../project/read-ranges';
import { covers } from '../../time/range';
import { timelineName, type Snapshot } from '../plan/snapshot';
import { stockOf } from '../plan/stock-view';
import type { UsedMediaSettings } from './settings';
import { framesRead, shiftRead } from './event-use';
import { readsIn, type UsedItem, type UsedMedia } from './used-media';

/** What pull names its timelines with: they read what was taken already. */
export const PULLED = ' · pulled';

/** Their names: those that read frames of the items taken in parts which would not be kept. */
export function otherTimelinesUsing(snapshot: Snapshot, settings: UsedMediaSettings, media: UsedMedia): string[] {
  const chosen = new Set(settings.timelineIds);
  const others = snapshot.timelines.filter((timeline) => !chosen.has(timeline.id) && !timelineName(timeline).endsWith(PULLED));
  const inParts = new Map(media.items.filter(({ method }) => method !== 'whole').map((used) => [placeKey(used.item.place), used]));
  if (others.length === 0 || inParts.size === 0) return [];
  const stock = stockOf(snapshot);
  const readers = snapshot.clips.flatMap((clip) => {
    const links = sourceRendition(clip)?.links ?? [];
    const items = links.map(({ place }) => (place ? (inParts.get(placeKey(place)) ?? null) : null));
    return items.some((used) => used !== null) && sourceState(clip, stock) === 'present' ? [{ clip, links, items }] : [];
  });
  const byClip = new Map(readers.map(({ clip }, number) => [clip.id, number]));
  let loses = false;
  let timelineId = '';
  const look = (used: UsedItem | null, start: number, end: number): void => {
    if (loses || !used) return;
    const inside = { start: Math.max(0, start), end: Math.min(end, used.item.facts.durationFrames ?? end) };
    loses = !covers(used.kept, [inside]);
  };
  const pass = new ReadRanges(readers.length, {
    shift(reader, use, span) {
      const { clip, items } = readers[reader]!;
      return items.length === 1 ? shiftRead({ clip, use, span }, items[0]!.item.facts) : null;
    },
    range: (reader, start, end) => look(readers[reader]!.items[0]!, start, end),
    each(reader, use, named, span) {
      const { clip, links, items } = readers[reader]!;
      for (const link of linksRead(clip, use.trackKind === 'audio', named, stock)) {
        const used = items[links.indexOf(link)] ?? null;
        if (!used) continue;
        const { start, end } = framesRead({ timelineId, clip, use, named, span }, used.item.facts);
        look(used, start, end);
      }
    },
  });
  return others
    .filter((timeline) => {
      loses = false;
      timelineId = timeline.id;
      const reads = readsIn(timeline);
      pass.tell(
        reads,
        Int32Array.from(reads.clipIds, (id) => byClip.get(id) ?? -1),
        settings.countDisabled,
      );
      return loses;
    })
    .map(timelineName);
}
