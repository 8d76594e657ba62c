/** What an event reads now, as far as others can be held against it. */
import { fileName, type Item, type MediaFacts } from '../../media/item';
import { isExpected, linksReadOf, sourceRendition, type Expected, type MediaLink } from '../../project/clip';
import type { Rate } from '../../time/rate';
import type { StockView } from '../plan/stock-view';
import type { EventUse } from './event-use';

export type SourceFacts = Pick<MediaFacts, 'kind' | 'rate' | 'startFrame' | 'durationFrames' | 'dropFrame' | 'reel' | 'sequence' | 'video'>;

export interface ShotSource {
  readonly link: MediaLink;
  /** As the last stocktake saw it; null where it never did, or another file stands there. */
  readonly item: Item | null;
  readonly facts: SourceFacts;
  /** At which its frames are counted: of numbered frames that have none of their own, that of the event. */
  readonly rate: Rate | null;
  /** Where nothing is known of the file: its frames are those that the timeline counts, from 0. */
  readonly isCounted: boolean;
  readonly name: string;
}

/** The item of the source that the event reads; null where the clip has none. */
export function shotSource({ clip, use, named }: EventUse, stock: StockView): ShotSource | null {
  const links = linksReadOf(sourceRendition(clip)?.links ?? [], use.trackKind === 'audio', named, stock);
  const link = links[0];
  if (!link) return null;
  const standing = link.place ? stock.itemAt(link.place) : null;
  const item = standing && isExpected(standing, link) ? standing : null;
  const rateOf = ({ kind, rate }: Pick<SourceFacts, 'kind' | 'rate'>) => rate ?? (kind === 'sequence' ? use.rate : null);
  if (item) return { link, item, facts: item.facts, rate: rateOf(item.facts), isCounted: false, name: fileName(item.place.path) };
  const { expected } = link;
  const isCounted = expected.startFrame === null && expected.durationFrames === null;
  const facts = isCounted ? { ...remembered(expected), rate: expected.rate ?? use.rate, startFrame: 0 } : remembered(expected);
  return { link, item: null, facts, rate: rateOf(facts), isCounted, name: expected.name || clip.name };
}

function remembered({ kind, rate, startFrame, durationFrames, reel }: Expected): SourceFacts {
  return { kind: kind ?? 'video', rate, startFrame, durationFrames, reel, dropFrame: false, sequence: null, video: null };
}
