/** Input that once blew up: each at two sizes, with how much longer twice as much takes. Linear is 2; nothing here passes or fails. */
import { planExport } from '../src/core/planning/export/export';
import type { Snapshot } from '../src/core/planning/plan/snapshot';
import { ReelNames } from '../src/core/interchange/edl/reel-names';
import { readEdl } from '../src/core/interchange/edl/edl-reader';
import { readOtioDocument } from '../src/core/interchange/otio/otio-reader';
import {
  clipDocument,
  externalReference,
  gapDocument,
  rationalTime,
  sequenceReference,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../src/core/interchange/otio/otio-writer';
import { findSequences } from '../src/core/media/image-sequence';
import type { Item } from '../src/core/media/item';
import { NameRegister } from '../src/core/naming/safe-name';
import { compareTimelines } from '../src/core/project/compare';
import type { Timeline } from '../src/core/project/timeline';
import { rate } from '../src/core/time/rate';
import { sourceInterval, timeMap } from '../src/core/time/retime';
import { newClip } from '../src/server/projects/make-clip';

const PAL = rate(25);

function milliseconds(work: () => unknown): number {
  const began = performance.now();
  work();
  return performance.now() - began;
}

function growth(name: string, size: number, make: (size: number) => () => unknown): void {
  make(Math.min(size, 100))();
  const [half, whole] = [size / 2, size].map((count) => milliseconds(make(count)));
  console.log(`${name}: ${size} in ${whole!.toFixed(0)} ms, ${(whole! / half!).toFixed(1)} × the half`);
}

function timelineOf(events: number): Timeline {
  const clips = Array.from({ length: events }, (_, index) => clipDocument('a.mov', timeRange(900_000 + (index % 50), 10, PAL), externalReference('a.mov', 'a.mov', timeRange(900_000, 1000, PAL)))); // prettier-ignore
  return readOtioDocument(timelineDocument('T', rationalTime(0, PAL), [trackDocument('V1', 'Video', clips)]), PAL).timelines[0]!.timeline;
}

/** A project with one timeline of one long sequence. */
function sequenceProject(frames: number): Snapshot {
  const sequence = { prefix: 'f.', suffix: '.dpx', padding: 6, firstNumber: 1, lastNumber: frames, missingRuns: [] };
  const place = { shelfId: 'A', path: `s/f.[000001-${String(frames).padStart(6, '0')}].dpx` };
  const facts = { kind: 'sequence' as const, container: 'dpx', rate: null, durationFrames: frames, startFrame: null, startTimecode: null, dropFrame: false, reel: null, video: null, audio: [], sequence }; // prettier-ignore
  const item: Item = { id: 'i', place, sizeBytes: frames * 1000, modifiedMs: 1, identity: null, fingerprint: 'frames:x', facts, problem: null };
  const reference = sequenceReference({ folderUrl: 's', prefix: 'f.', suffix: '.dpx', padding: 6, startNumber: 1, rate: PAL }, 'f', timeRange(0, frames, PAL)); // prettier-ignore
  const document = timelineDocument('T', rationalTime(0, PAL), [trackDocument('V1', 'Video', [clipDocument('f', timeRange(0, 10, PAL), reference)])]);
  const expected = {
    name: 'f',
    sizeBytes: null,
    fingerprint: 'frames:x',
    rate: null,
    durationFrames: null,
    startFrame: null,
    reel: null,
    kind: null,
  };
  const clip = newClip({ name: 'f', binPath: '', mediaKey: 'k', madeBy: 'hand', links: [{ place, url: '', expected }] }, () => 'c');
  const shelf = { id: 'A', name: 'A', attached: true, writable: true, capacityBytes: 1e13, freeBytes: 1e13 };
  const model = readOtioDocument(document, PAL).timelines[0]!.timeline;
  return { project: { id: 'p', name: 'P', rate: PAL, dropFrame: false }, clips: [clip], timelines: [{ id: 't', model, document, clipIds: ['c'] }], shelves: [shelf], items: [item] }; // prettier-ignore
}

growth('a speed key on every frame', 4_000, (keys) => {
  const map = timeMap('speed', Array.from({ length: keys }, (_, frame) => ({ frame, value: 1 + (frame % 7) / 10 }))); // prettier-ignore
  return () => sourceInterval({ speed: { num: 1, den: 1 }, map }, keys, 0, keys, false);
});
growth('lengths at as many rates', 4_000, (rates) => {
  const gaps = Array.from({ length: rates }, (_, index) => gapDocument(7, rate(24_000 + index, 1001)));
  const document = timelineDocument('T', rationalTime(0, PAL), [trackDocument('V1', 'Video', gaps)]);
  return () => readOtioDocument(document, PAL);
});
growth('reels that begin alike', 40_000, (names) => {
  const reels = new ReelNames([]);
  return () => Array.from({ length: names }, (_, index) => reels.short(`A001_C001_${index}`));
});
growth('an OTIO bundle of one long sequence', 16_000, (frames) => {
  const snapshot = sequenceProject(frames);
  const settings = { timelineIds: ['t'], format: 'otioz' as const, destination: { shelfId: 'A', path: '' }, folderName: 'x' };
  return () => planExport(snapshot, settings, { taken: [], addresses: new Map() });
});
growth('two versions of one source', 40_000, (events) => {
  const [before, after] = [timelineOf(events), timelineOf(events - 10)];
  return () => compareTimelines(before, after, () => 'a');
});
growth('an M2 line of blanks', 400_000, (blanks) => () => readEdl(`001 A V C 01:00:00:00 01:00:01:00 01:00:00:00 01:00:01:00\nM2 ${' '.repeat(blanks)}x\n`, PAL)); // prettier-ignore
growth('lines of one number with a name each', 40_000, (lines) => {
  const text = Array.from({ length: lines / 2 }, () => '001 A V C 01:00:00:00 01:00:01:00 01:00:00:00 01:00:01:00\n* FROM CLIP NAME: A').join('\n');
  return () => readEdl(text, PAL);
});
growth('equal file names', 40_000, (names) => {
  const register = new NameRegister();
  return () => Array.from({ length: names }, () => register.claim('media', 'a.mov'));
});
growth('pictures named by the clock', 100_000, (files) => {
  const names = Array.from({ length: files }, (_, index) => `p.${1_700_000_000 + index * 3_600}.jpg`);
  return () => findSequences(names);
});
