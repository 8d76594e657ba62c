import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { MediaFacts, VideoFacts } from '../media/item';
import { sizeOf, type PictureSize } from './picture-size';
import { PRESETS, presetFor } from './presets';

const video = (own: Partial<VideoFacts> = {}): MediaFacts => ({
  kind: 'video', container: 'mov', rate: { num: 25, den: 1 }, durationFrames: 10, startFrame: null, startTimecode: null, dropFrame: false, reel: null, audio: [], sequence: null,
  video: { codec: 'h264', profile: null, width: 1920, height: 1080, pixelFormat: 'yuv420p', bitDepth: 8, alpha: false, colorTransfer: null, colorPrimaries: null, ...own },
}); // prettier-ignore

describe('the size of a picture', () => {
  it.each([
    [{ width: 1920, height: 1080 }, { by: 'lines', lines: 720 }, '1280x720'],
    [{ width: 1920, height: 1080 }, { by: 'lines', lines: 540 }, '960x540'],
    [{ width: 1920, height: 1080 }, { by: 'share', share: 3 }, '640x360'],
    [{ width: 4096, height: 2160 }, { by: 'fit', width: 1920, height: 1080 }, '1920x1012'],
    [{ width: 720, height: 576 }, { by: 'fit', width: 1920, height: 1080 }, '720x576'],
    [{ width: 1280, height: 720 }, { by: 'lines', lines: 1080 }, '1280x720'],
    [{ width: 1080, height: 1920 }, { by: 'lines', lines: 720 }, '406x720'],
    [{ width: 255, height: 143 }, { by: 'full' }, '256x144'],
    [{ width: 1, height: 1 }, { by: 'share', share: 6 }, '2x2'],
  ] as const)('%j by %j is %s', (source, size, wanted) => {
    const { width, height } = sizeOf(source, size);
    expect(`${width}x${height}`).toBe(wanted);
  });

  it('is even, no larger than the source made even, of its shape, and inside its frame', () => {
    const side = fc.integer({ min: 2, max: 8_192 });
    const size: fc.Arbitrary<PictureSize> = fc.oneof(
      fc.constant<PictureSize>({ by: 'full' }),
      fc.record({ by: fc.constant('lines' as const), lines: fc.constantFrom(360, 540, 720, 1080) }),
      fc.record({ by: fc.constant('share' as const), share: fc.constantFrom(2, 3, 4, 6) }),
      fc.record({ by: fc.constant('fit' as const), width: fc.integer({ min: 16, max: 4_096 }), height: fc.integer({ min: 16, max: 4_096 }) }),
    );
    fc.assert(
      fc.property(side, side, size, (width, height, wanted) => {
        const made = sizeOf({ width, height }, wanted);
        expect([made.width % 2, made.height % 2]).toEqual([0, 0]);
        expect(made.width).toBeLessThanOrEqual(width + 1);
        expect(made.height).toBeLessThanOrEqual(height + 1);
        if (wanted.by === 'fit' && (width > wanted.width || height > wanted.height)) {
          expect(made.width).toBeLessThanOrEqual(Math.max(2, wanted.width));
          expect(made.height).toBeLessThanOrEqual(Math.max(2, wanted.height));
        }
        // A side may be off by what makes it even, one sign either way.
        const scale = made.height / height;
        if (made.height > 2) expect(Math.abs(made.width - width * scale)).toBeLessThanOrEqual(2 + (2 * width) / height);
      }),
    );
  });
});

describe('the preset', () => {
  it.each([
    ['pocket', {}, 'pocket'],
    ['pocket', { bitDepth: 10 }, 'thread'],
    ['pocket', { colorTransfer: 'smpte2084' }, 'thread'],
    ['pocket', { colorTransfer: 'arib-std-b67' }, 'thread'],
    ['courier', { bitDepth: 12 }, 'courier'],
    ['courier', { alpha: true }, 'veil'],
    ['pocket', { alpha: true, bitDepth: 10 }, 'veil'],
    ['bench', { alpha: true }, 'bench-veil'],
  ] as const)('%s for %j is %s', (wanted, own, got) => {
    const { preset, why } = presetFor(wanted, video(own));
    expect(preset.id).toBe(got);
    expect(why === null).toBe(wanted === got);
  });

  it('never takes bits or alpha away', () => {
    for (const { id } of PRESETS)
      for (const bitDepth of [8, 10, 12])
        for (const alpha of [false, true])
          for (const colorTransfer of [null, 'bt709', 'smpte2084', 'arib-std-b67']) {
            const { preset } = presetFor(id, video({ bitDepth, alpha, colorTransfer }));
            expect(preset.bitDepth >= Math.min(bitDepth, 10)).toBe(true);
            if (alpha) expect(preset.alpha).toBe(true);
            if (colorTransfer === 'smpte2084') expect(preset.bitDepth).toBeGreaterThan(8);
          }
  });
});
