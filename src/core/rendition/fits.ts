/** Whether a rendition is of its source as the source is now, frame for frame. */
import type { Item, MediaFacts } from '../media/item';
import { rateAsNumber, sameRate, rateLabel } from '../time/rate';
import { comparePrints } from '../media/fingerprint';
import type { Rendition } from '../project/clip';
import type { Made } from './recipe';

/** What of a source is held against a rendition; `audio` null where it is not remembered. */
export type FittedFacts = Pick<MediaFacts, 'durationFrames' | 'rate' | 'startFrame' | 'reel' | 'kind' | 'sequence'> & {
  readonly audio: MediaFacts['audio'] | null;
};

/**
 * What is asked of a rendition: one made here has all its source has; of one made elsewhere the reel may not be known; the
 * source of finished pictures keeps its sound.
 */
export type Fitting = 'own' | 'fewer channels' | 'elsewhere' | 'pictures';

export function fittingOf({ kind, made }: Pick<Rendition, 'kind' | 'made'>): Fitting {
  if (kind === 'finished') return 'pictures';
  return made?.presetId ? (made.fewerChannels ? 'fewer channels' : 'own') : 'elsewhere';
}

/** What does not fit, in words; none where it can stand for its source. */
export function misfits(source: FittedFacts, rendition: MediaFacts, fitting: Fitting = 'own'): string[] {
  const out: string[] = [];
  const sequence = source.sequence !== null;
  if (source.durationFrames !== null && rendition.durationFrames !== source.durationFrames)
    out.push(`${rendition.durationFrames ?? 'no'} frames instead of ${source.durationFrames}`);
  if (source.rate && (!rendition.rate || !sameRate(source.rate, rendition.rate)))
    out.push(`${rendition.rate ? rateLabel(rendition.rate) : 'no rate'} instead of ${rateLabel(source.rate)}`);
  if (!sequence && source.startFrame !== null && rendition.startFrame !== source.startFrame) out.push('another start timecode');
  // The reel is written with the timecode; without it there is no place for it.
  const mayLack = fitting !== 'own' && fitting !== 'fewer channels' && rendition.reel === null;
  if (source.reel !== null && source.startFrame !== null && rendition.reel !== source.reel && !mayLack) out.push('another reel');
  const { audio } = source;
  if (
    fitting !== 'pictures' &&
    fitting !== 'fewer channels' &&
    source.kind === 'video' &&
    audio !== null &&
    channels(rendition) !== channels({ audio })
  )
    out.push(`${channels(rendition)} channels instead of ${channels({ audio })}`);
  return out;
}

export function channels({ audio }: Pick<MediaFacts, 'audio'>): number {
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
