import { describe, expect, it } from 'vitest';
import type { Item, MediaFacts } from '../../media/item';
import { bytesShare, optionsAt, presetOf } from '../../rendition/presets';
import { item, PAL, VIDEO } from '../../../../tests/helpers/snapshots';
import { alternativesOf, reckon, type Measured } from './alternatives';
import type { ProxySettings } from './settings';

const settings = (own: Partial<ProxySettings> = {}) =>
  ({ presetId: 'pocket', size: { by: 'lines', lines: 540 }, sound: 'all', ...own }) as ProxySettings;
const picture = (bitDepth: number, height = 1080): MediaFacts['video'] => ({ ...VIDEO.video!, bitDepth, height, width: (height * 16) / 9 });
const items = (...facts: Partial<MediaFacts>[]): Item[] => facts.map((own, index) => item(`${index}.mov`, own));
const measured = (presetId: Measured['presetId'], bytes: number, seconds: number): Measured => ({ presetId, frames: 50, pixels: 960 * 540, sourcePixels: 1920 * 1080, bytes, seconds }); // prettier-ignore

describe('what other presets and sizes would take', () => {
  it('one frame counts as its pixels, in the preset that its source really gets', () => {
    const found = alternativesOf(items({ video: picture(8) }, { video: picture(10), durationFrames: 500 }), settings(), PAL)!;
    const own = found.all.find(({ presetId, size }) => presetId === 'pocket' && size.by === 'lines' && size.lines === 540)!;
    expect(own.loads).toEqual([
      { presetId: 'pocket', pixels: 1000 * 960 * 540, sourcePixels: 1000 * 1920 * 1080 },
      { presetId: 'thread', pixels: 500 * 960 * 540, sourcePixels: 500 * 1920 * 1080 },
    ]);
    // Twenty times the sample in one preset, ten times in the other.
    expect(reckon(own, [measured('pocket', 1000, 2), measured('thread', 300, 5)])).toEqual({ bytes: 23_000, seconds: 90 });
    expect(reckon(own, [measured('pocket', 1000, 2)])).toBeNull();
  });

  it('the sample is the largest; sizes are the asked one and the next smaller, said alike', () => {
    const three = (size: ProxySettings['size']) => [...new Set(alternativesOf(items({ video: picture(8, 720) }, { video: picture(8) }), settings({ size }), PAL)!.all.map((one) => JSON.stringify(one.size)))].map((text) => JSON.parse(text) as object); // prettier-ignore
    expect(alternativesOf(items({ video: picture(8, 720) }, { video: picture(8) }), settings(), PAL)!.sample.name).toBe('1.mov');
    expect(three({ by: 'full' })).toEqual([{ by: 'full' }, { by: 'lines', lines: 720 }, { by: 'lines', lines: 540 }]);
    expect(three({ by: 'share', share: 3 })).toEqual([{ by: 'share', share: 3 }, { by: 'share', share: 4 }, { by: 'share', share: 6 }]); // prettier-ignore
    expect(alternativesOf([], settings(), PAL)).toBeNull();
    // A source upright on its side is as wide as it is high.
    expect(alternativesOf(items({ video: { ...picture(8)!, rotation: 90 } }), settings(), PAL)!.sample).toMatchObject({ width: 1080, height: 1920 });
  });

  it('the same file of two clips is encoded once', () => {
    const [one] = items({ video: picture(8) });
    expect(alternativesOf([one!, one!], settings(), PAL)!.all[0]!.loads[0]!.pixels).toBe(
      alternativesOf([one!], settings(), PAL)!.all[0]!.loads[0]!.pixels,
    );
  });
});

describe('quality against the preset', () => {
  it('is said in the words of its encoder, and never goes beyond what there is', () => {
    expect(optionsAt(presetOf('pocket'), 2)).toContain('17');
    expect(optionsAt(presetOf('pocket'), -2)).toContain('29');
    expect(optionsAt(presetOf('courier'), 1).slice(0, 2)).toEqual(['-profile:v', '1']);
    expect(optionsAt(presetOf('courier'), -2)).toEqual(presetOf('courier').options);
    expect(optionsAt(presetOf('bench'), 2)).toEqual(presetOf('bench').options);
    expect(optionsAt(presetOf('veil'), 2)).toEqual(presetOf('veil').options);
    expect([bytesShare(presetOf('pocket'), 2), bytesShare(presetOf('courier'), -1)]).toEqual([2, 1]);
    expect(bytesShare(presetOf('courier'), 1)).toBeGreaterThan(2);
  });
});
