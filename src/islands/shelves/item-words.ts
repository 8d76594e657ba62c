import { codecName } from '../../core/media/codec-traits';
import type { MediaFacts } from '../../core/media/item';
import { rateLabel } from '../../core/time/rate';
import { frameToTimecode } from '../../core/time/timecode';

export function codecWords(facts: MediaFacts): string {
  if (facts.video) return codecName(facts.video.codec);
  if (facts.audio[0]) return codecName(facts.audio[0].codec);
  return facts.container.toUpperCase();
}

export function pictureWords(facts: MediaFacts): string {
  if (!facts.video) return facts.audio[0] ? `${facts.audio[0].channels} ch · ${facts.audio[0].sampleRate / 1000} kHz` : '–';
  const { width, height, bitDepth, alpha } = facts.video;
  return `${width}×${height} · ${bitDepth} bit${alpha ? ' · alpha' : ''}`;
}

export function rateWords(facts: MediaFacts): string {
  return facts.rate && facts.kind !== 'audio' ? rateLabel(facts.rate) : '–';
}

/** Length as timecode for picture, as clock time for sound, as a count for sequences. */
export function lengthWords(facts: MediaFacts): string {
  if (facts.durationFrames === null) return '–';
  if (!facts.rate) return `${facts.durationFrames} fr.`;
  if (facts.kind === 'audio') {
    const seconds = (facts.durationFrames * facts.rate.den) / facts.rate.num;
    const two = (value: number) => String(Math.floor(value)).padStart(2, '0');
    return `${two(seconds / 3600)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}.${String(Math.floor((seconds % 1) * 1000)).padStart(3, '0')}`;
  }
  return frameToTimecode(facts.durationFrames, facts.rate, false);
}

/** Start timecode; for sound from its sample count, at 25 frames a second it would depend on the project, so as time of day. */
export function startWords(facts: MediaFacts): string {
  if (facts.startTimecode) return facts.startTimecode;
  if (facts.kind === 'audio' && facts.startFrame !== null && facts.rate) return lengthWords({ ...facts, durationFrames: facts.startFrame });
  return '–';
}

/** Row of the facts; none where every codec of its kind has key frames only, or nothing was read of it. */
export function keyFrameRow({ keyFrames }: MediaFacts): [string, string][] {
  if (!keyFrames) return [];
  const { spacing } = keyFrames;
  return [
    [
      'Key frames',
      spacing === null
        ? 'one, and no second in what was read (at most 300 frames or 16 MB)'
        : spacing === 1
          ? 'every frame (intra-frame)'
          : `every ${spacing} frames`,
    ],
  ];
}
