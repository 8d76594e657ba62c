/** Whether a rendition is of its source as the source is now, frame for frame. */
import type { Item, MediaFacts } from '../media/item';
import { rateAsNumber, sameRate, formatRate } from '../time/rate';
import { comparePrints } from '../media/fingerprint';
import type { Made } from './recipe';

/** What does not fit, in words; none where it can stand for its source. */
export function misfits(source: MediaFacts, rendition: MediaFacts): string[] {
  const out: string[] = [];
  const sequence = source.sequence !== null;
  if (source.durationFrames !== null && rendition.durationFrames !== source.durationFrames)
    out.push(`${rendition.durationFrames ?? 'no'} frames instead of ${source.durationFrames}`);
  if (source.rate && (!rendition.rate || !sameRate(source.rate, rendition.rate)))
    out.push(`${rendition.rate ? formatRate(rendition.rate) : 'no rate'} instead of ${formatRate(source.rate)}`);
  if (!sequence && source.startFrame !== null && rendition.startFrame !== source.startFrame) out.push('another start timecode');
  // The reel is written with the timecode; without it there is no place for it.
  if (source.reel !== null && source.startFrame !== null && rendition.reel !== source.reel) out.push('another reel');
  if (source.kind === 'video' && channels(rendition) !== channels(source)) out.push(`${channels(rendition)} channels instead of ${channels(source)}`);
  return out;
}

export function channels({ audio }: MediaFacts): number {
  return audio.reduce((sum, track) => sum + track.channels, 0);
}

/** Whether the source has changed since. `made`: null for one that was made elsewhere, of which the times alone tell. */
export function isOlder(source: Pick<Item, 'fingerprint' | 'modifiedMs'>, rendition: Pick<Item, 'modifiedMs'>, made: Made | null): boolean {
  if (made) return comparePrints(made.sourcePrint, source.fingerprint) === false;
  return rendition.modifiedMs < source.modifiedMs;
}

/** Stills and sound are as light as any copy of them would be. */
export function isOwnProxy({ kind, rate }: Pick<MediaFacts, 'kind' | 'rate'>): boolean {
  return kind === 'still' || kind === 'audio' || (rate !== null && rateAsNumber(rate) === 0);
}
