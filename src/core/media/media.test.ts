import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutMethod } from './codec-traits';
import { carriesInformation, fingerprintSamples, SAMPLE_BYTES } from './fingerprint';
import { findSequences, frameName, presentNumbers, sequenceName } from './image-sequence';
import type { MediaFacts } from './item';
import { BEXT_TIME_REFERENCE_OFFSET, cutWav } from './riff';
import { formatBytes } from '../words/figures';

describe('findSequences', () => {
  const names = [
    'pour.1001.dpx',
    'pour.1002.dpx',
    'pour.1003.dpx',
    'pour.1005.dpx',
    'pour.1006.dpx',
    'still_001.jpg',
    'still_002.jpg',
    'A001_C001.mov',
  ];

  it('groups numbered pictures, keeps gaps, leaves a few stills alone', () => {
    const { sequences, single } = findSequences(names);
    expect(single).toEqual(['still_001.jpg', 'still_002.jpg', 'A001_C001.mov']);
    expect(sequences).toHaveLength(1);
    expect(sequences[0]!.facts).toEqual({
      prefix: 'pour.',
      suffix: '.dpx',
      padding: 4,
      firstNumber: 1001,
      lastNumber: 1006,
      missingRuns: [[1004, 1004]],
    });
    expect(sequenceName(sequences[0]!.facts)).toBe('pour.[1001-1006].dpx');
    const { facts } = sequences[0]!;
    expect(presentNumbers(facts, { start: 2, end: 5 }).map((number) => frameName(facts, number))).toEqual(['pour.1003.dpx', 'pour.1005.dpx']);
  });
});

describe('cutMethod', () => {
  const facts: MediaFacts = {
    kind: 'video',
    container: 'mov',
    rate: { num: 25, den: 1 },
    durationFrames: 100,
    startFrame: 0,
    startTimecode: null,
    dropFrame: false,
    reel: null,
    video: {
      codec: 'prores',
      profile: null,
      width: 64,
      height: 36,
      pixelFormat: 'yuv422p10le',
      bitDepth: 10,
      alpha: false,
      colorTransfer: null,
      colorPrimaries: null,
    },
    audio: [],
    sequence: null,
    extraTracks: { pictures: 0, covers: 0, subtitles: 0, data: 0 },
    steadyRate: true,
  };
  const video = facts.video!;

  it('cuts intra-frame media and says why it leaves the rest whole', () => {
    expect(cutMethod(facts)).toEqual({ method: 'trim', exact: true });
    expect(cutMethod({ ...facts, video: { ...video, codec: 'h264', profile: 'High' } })).toEqual({ method: 'whole', why: 'long-GOP' });
    expect(cutMethod({ ...facts, video: { ...video, codec: 'h264', profile: 'High 10 Intra' } }).method).toBe('trim');
    expect(cutMethod({ ...facts, container: 'matroska' })).toEqual({ method: 'whole', why: 'in MATROSKA' });
    expect(cutMethod({ ...facts, audio: [{ codec: 'aac', channels: 2, sampleRate: 48000, bitDepth: null }] })).toEqual({
      method: 'whole',
      why: 'compressed sound inside',
    });
    const extra = { pictures: 0, covers: 0, subtitles: 0, data: 0 };
    expect(cutMethod({ ...facts, extraTracks: { ...extra, data: 1 } })).toEqual({ method: 'whole', why: 'a data track inside' });
    // Read by an earlier version, which did not count tracks: nothing is promised.
    expect(cutMethod({ ...facts, extraTracks: undefined }).method).toBe('whole');
    expect(cutMethod({ ...facts, durationFrames: null })).toEqual({ method: 'whole', why: 'its length is not known' });
  });
});

describe('cutWav', () => {
  it('keeps every chunk in order and moves the time reference', () => {
    const bext = new Uint8Array(602);
    new DataView(bext.buffer).setBigUint64(BEXT_TIME_REFERENCE_OFFSET, 1_728_000_000n, true);
    const chunks = [{ id: 'bext', offset: 20, size: 602 }, { id: 'fmt ', offset: 630, size: 16 }, { id: 'data', offset: 654, size: 6000 }, { id: 'iXML', offset: 6662, size: 33 }]; // prettier-ignore
    const header = { form: 'RIFF', chunks, blockAlign: 6, contents: new Map([[20, bext]]) };
    const segments = cutWav(header, 100, 300)!;
    const moved = segments.find((segment) => segment.type === 'bytes' && segment.bytes.length === 602);
    expect(moved?.type === 'bytes' && new DataView(moved.bytes.buffer).getBigUint64(BEXT_TIME_REFERENCE_OFFSET, true)).toBe(1_728_000_100n);
    expect(segments).toContainEqual({ type: 'range', offset: 654 + 600, length: 1200 });
    expect(segments).toContainEqual({ type: 'range', offset: 6662, length: 33 });
    expect(cutWav(header, 900, 1100)).toBeNull();
  });
});

it('samples cover small files wholly; of large ones both ends and places between that depend on the size', () => {
  expect(fingerprintSamples(0)).toEqual([]);
  expect(fingerprintSamples(SAMPLE_BYTES * 14)).toEqual([{ offset: 0, length: SAMPLE_BYTES * 14 }]);
  fc.assert(
    fc.property(fc.integer({ min: SAMPLE_BYTES * 14 + 1, max: 2 ** 43 }), (size) => {
      const samples = fingerprintSamples(size);
      expect(samples).toHaveLength(14);
      expect(samples[0]!.offset).toBe(0);
      expect(samples.at(-1)!.offset).toBe(size - SAMPLE_BYTES);
      // In order, and nowhere a gap much wider than a thirteenth of the file.
      for (let index = 1; index < 14; index++) {
        const step = samples[index]!.offset - samples[index - 1]!.offset;
        expect(step).toBeGreaterThan(0);
        expect(step).toBeLessThanOrEqual((size / 13) * 1.5 + 1);
      }
      expect(fingerprintSamples(size)).toEqual(samples);
    }),
  );
  const places = (size: number) => fingerprintSamples(size).map(({ offset }) => offset / size);
  expect(places(10_000_000)).not.toEqual(places(20_000_000));
});

it('silence, padding, and whatever repeats tell nothing; sound, pictures and text do', () => {
  const sample = (at: (index: number) => number) => Uint8Array.from({ length: SAMPLE_BYTES }, (_, index) => at(index) & 255);
  let seed = 1;
  const random = () => (seed = Math.imul(seed, 1664525) + 1013904223) >>> 16;
  const noise = sample(random);
  for (const period of [1, 2, 3, 7, 16, 100, 512, 4096, 5000]) expect(carriesInformation(sample((index) => noise[index % period]!)), `period ${period}`).toBe(false); // prettier-ignore
  expect(carriesInformation(sample(() => 0))).toBe(false);
  expect(carriesInformation(noise)).toBe(true);
  expect(carriesInformation(sample((index) => 128 + 40 * Math.sin(index / 17.3) + 3 * Math.sin(index * 1.7)))).toBe(true);
  // A header before silence.
  expect(carriesInformation(sample((index) => (index < 600 ? noise[index]! : 0)))).toBe(false);
});

it.each([[999, '999 B'], [1000, '1.00 kB'], [999_999, '1.00 MB'], [18_400_000_000, '18.4 GB'], [61_234_567, '61.2 MB'], [553_000_000, '553 MB']])('formatBytes(%i) is %s', (bytes, words) => expect(formatBytes(bytes)).toBe(words)); // prettier-ignore
