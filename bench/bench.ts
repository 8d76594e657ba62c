/** Timings against plain tools in the same run, as ratios. Nothing here passes or fails. */
import { execFileSync } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { randomFillSync } from 'node:crypto';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../src/core/interchange/otio/otio-writer';
import { readOtio, readOtioDocument } from '../src/core/interchange/otio/otio-reader';
import type { OtioObject } from '../src/core/interchange/otio/otio-types';
import type { Clip } from '../src/core/project/clip';
import type { Snapshot } from '../src/core/planning/plan/snapshot';
import { readsIn } from '../src/core/planning/taking/used-media';
import { reportUsage } from '../src/core/usage/usage-report';
import { newClip } from '../src/server/projects/make-clip';
import { clipEvents, type Timeline, type Track, type TrackItem } from '../src/core/project/timeline';
import { rate } from '../src/core/time/rate';
import { NORMAL_SPEED } from '../src/core/time/retime';
import { House } from '../src/server/house';
import { registerShelf } from '../src/server/stock/register-shelf';
import { newControl } from '../src/server/threads/control';
import { closeThreads } from '../src/server/threads/pool';
import { runCopy } from '../src/server/files/copy-files';
import { configOf } from './made-up';
import { startServer } from './server';
import { THIS_MACHINE } from '../src/server/runs/actor';
import { takeStockOf } from '../src/server/usecases/shelves';

const GIB = 1024 ** 3;
const folder = mkdtempSync(join(process.env.MILL_SHELF_BENCH ?? tmpdir(), 'mill-bench-'));

async function timed<T>(work: () => Promise<T> | T): Promise<{ seconds: number; result: T }> {
  const began = process.hrtime.bigint();
  const result = await work();
  return { seconds: Number(process.hrtime.bigint() - began) / 1e9, result };
}

/** The quickest of five takes: what else the machine did meanwhile does not count. */
async function quickest(work: () => unknown): Promise<{ seconds: number }> {
  let seconds = Infinity;
  for (let take = 0; take < 5; take++) seconds = Math.min(seconds, (await timed(work)).seconds);
  return { seconds };
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
}

/** Copy, flush, read back and compare, against `cp` and `sha256sum` of both sides. */
async function copyAndVerify(): Promise<void> {
  const source = join(folder, 'source.bin');
  const stream = createWriteStream(source);
  const block = Buffer.alloc(8 * 1024 * 1024);
  for (let bytes = 0; bytes < GIB; bytes += block.length) if (!stream.write(randomFillSync(block))) await once(stream, 'drain');
  stream.end();
  await once(stream, 'close');
  const ratios: number[] = [];
  const ours: number[] = [];
  const plain: number[] = [];
  for (let round = 0; round < 3; round++) {
    const target = join(folder, 'target.bin');
    const own = await timed(() => runCopy({ write: { source, segments: 'all', keepTimes: true, mustBe: null }, target, control: newControl() }));
    rmSync(target);
    const tools = await timed(() => {
      execFileSync('cp', [source, target]);
      return execFileSync('sha256sum', [source, target], { encoding: 'utf8' });
    });
    if (!tools.result.startsWith(own.result.sha256)) throw new Error('the checksums differ');
    rmSync(target);
    ours.push(own.seconds);
    plain.push(tools.seconds);
    ratios.push(own.seconds / tools.seconds);
  }
  rmSync(source);
  console.log(
    `copy and verify 1 GiB: ${median(ours).toFixed(2)} s; cp then sha256sum of both: ${median(plain).toFixed(2)} s; ratio ${median(ratios).toFixed(2)}`,
  );
}

/** Stocktake of the demo's drives, each file read anew, against plain ffprobe of the same files one by one. */
async function stocktake(): Promise<void> {
  const drives = join('demo-data', 'bay', 'plugged');
  if (!existsSync(drives)) return console.log('stocktake: no demo data (npm run demo makes it)');
  const copy = join(folder, 'drives');
  execFileSync('cp', ['-r', drives, copy]);
  const house = new House(configOf(folder));
  const names = execFileSync('ls', [copy], { encoding: 'utf8' }).trim().split('\n');
  const shelves = names.map((name) => registerShelf(house.catalogue, house.mounts, join(copy, name)));
  const own = await timed(async () => {
    for (const shelf of shelves) await house.runner.finished(await takeStockOf(house, THIS_MACHINE, shelf));
  });
  const items = shelves
    .flatMap((shelf) => house.catalogue.items.onShelf(shelf.id))
    .filter((item) => item.facts.kind !== 'other' && item.facts.kind !== 'sequence');
  const plain = await timed(() =>
    items.forEach((item) => execFileSync('ffprobe', ['-v', 'error', '-show_streams', house.mounts.resolve(item.place)], { stdio: 'ignore' })),
  );
  await house.close();
  console.log(
    `stocktake of the demo: ${((own.seconds * 1000) / items.length).toFixed(0)} ms a file over ${items.length} files; plain ffprobe one by one ${((plain.seconds * 1000) / items.length).toFixed(0)} ms; ratio ${(own.seconds / plain.seconds).toFixed(2)}`,
  );
}

const PAL = rate(25);
const perEvent = (seconds: number, events: number) => `${((seconds * 1e6) / events).toFixed(2)} µs an event`;

function longTrack(events: number, items: number, salt = 0): OtioObject {
  const clips = Array.from({ length: events }, (_, index) =>
    clipDocument(
      `c${index}`,
      timeRange(900_000 + ((index * 7 + salt) % 700), 40, PAL),
      externalReference(`/m/c${(index * 13 + salt) % items}.mov`, '', timeRange(900_000, 1000, PAL)),
    ),
  );
  return trackDocument('V1', 'Video', clips);
}

/** Reading an OTIO of about 50 MB and of twice that, against JSON.parse of the same text. */
async function readTimelines(): Promise<void> {
  let before = 0;
  for (const events of [24_000, 48_000]) {
    const text = formatOtio(timelineDocument('long', rationalTime(0, PAL), [longTrack(events, 500)]));
    const plain = await quickest(() => JSON.parse(text) as unknown);
    const read = await quickest(() => readOtio(text, PAL));
    const grown = before === 0 ? '' : `; ${(read.seconds / before).toFixed(2)} × the time of half of it`;
    before = read.seconds;
    console.log(
      `read OTIO, ${events} events, ${(text.length / 1e6).toFixed(0)} MB: ${perEvent(read.seconds, events)}, ${(read.seconds / plain.seconds).toFixed(2)} × JSON.parse${grown}`,
    );
  }
}

function madeUpClip(index: number): Clip {
  const url = `/m/c${index}.mov`;
  const expected = { name: url, sizeBytes: null, fingerprint: null, rate: PAL, durationFrames: 1000, startFrame: 900_000, reel: null, kind: null };
  const seed = { name: url, binPath: '', mediaKey: url, madeBy: 'timeline' as const, mediaStart: { value: 900_000, rate: PAL } };
  return newClip({ ...seed, id: url, links: [{ place: null, url, expected }] }, () => url);
}

/** Usage of a production: events over 50 000 items in 100 nested timelines, by item, ranges united. */
async function usage(): Promise<void> {
  const ITEMS = 50_000;
  const NESTED = 100;
  let before = 0;
  for (const events of [500_000, 1_000_000]) {
    const inside = events / NESTED;
    // The models of the nested timelines are read once; the production holds them all.
    const nested = Array.from({ length: NESTED }, (_, number): TrackItem => {
      const { timeline } = readOtioDocument(timelineDocument(`n${number}`, rationalTime(0, PAL), [longTrack(inside, ITEMS, number * 31)]), PAL)
        .timelines[0]!;
      const start = number * inside * 40;
      const durationFrames = inside * 40;
      for (const event of clipEvents(timeline.tracks)) (event as { index: number }).index += number * inside;
      return { type: 'nested', name: `n${number}`, start, durationFrames, aligned: true, enabled: true, windowStart: 0, windowAligned: true, retimeUnknown: false, speed: NORMAL_SPEED, map: null, tracks: timeline.tracks }; // prettier-ignore
    });
    const tracks: Track[] = [{ name: 'V1', kind: 'video', enabled: true, items: nested }];
    const model: Timeline = { name: 'all', rate: PAL, dropFrame: false, startFrame: 0, durationFrames: events * 40, tracks, markers: [], eventCount: events }; // prettier-ignore
    const clips = Array.from({ length: ITEMS }, (_, index) => madeUpClip(index));
    const clipIds: string[] = [];
    for (const event of clipEvents(tracks)) clipIds[event.index] = event.references[0]!.url!;
    const timelines = [{ id: 'all', model, document: {}, clipIds }];
    const snapshot: Snapshot = { project: { id: 'p', name: 'p', rate: PAL, dropFrame: false }, clips, timelines, shelves: [], items: [] };
    const choice = { timelineIds: ['all'], bins: [], clipIds: [], countDisabled: false };
    // What a timeline reads is made once, when it comes in.
    const made = await timed(() => readsIn(timelines[0]!));
    const found = await quickest(() => reportUsage(snapshot, choice));
    const grown = before === 0 ? '' : `; ${(found.seconds / before).toFixed(2)} × the time of half of it`;
    before = found.seconds;
    console.log(
      `usage, ${events} events over ${ITEMS} items in ${NESTED} nested timelines: ${found.seconds.toFixed(2)} s, ${perEvent(found.seconds, events)}${grown}; ${(found.seconds / made.seconds).toFixed(2)} × making what is kept of them (${made.seconds.toFixed(1)} s)`,
    );
  }
}

/** How long the server keeps others waiting while a timeline of about 50 MB comes in, against its idle answers. */
async function bringInLarge(): Promise<void> {
  const text = formatOtio(timelineDocument('long', rationalTime(0, PAL), [longTrack(24_000, 500)]));
  const { address, ask, stop } = await startServer(join(folder, 'server'), folder);
  try {
    const { id } = await ask<{ id: string }>('POST', 'projects', { name: 'Bench', rate: PAL });
    const answer = async () => (await timed(async () => (await fetch(`${address}api/shelves`)).text())).seconds * 1000;
    const idle: number[] = [];
    for (let index = 0; index < 50; index++) idle.push(await answer());
    const { upload } = (await (await fetch(`${address}api/uploads?name=long.otio`, { method: 'POST', body: text })).json()) as { upload: string };
    const state = { done: false };
    const coming = timed(() => ask<{ events: number }>('POST', `projects/${id}/timelines`, { upload })).finally(() => (state.done = true));
    const during: number[] = [];
    while (!state.done) during.push(await answer());
    const { seconds, result } = await coming;
    console.log(
      `bring in ${result.events} events, ${(text.length / 1e6).toFixed(0)} MB, over HTTP: ${seconds.toFixed(1)} s; an answer meanwhile: median ${median(during).toFixed(1)} ms, longest ${Math.max(...during).toFixed(0)} ms; idle median ${median(idle).toFixed(1)} ms`,
    );
  } finally {
    await stop();
  }
}

mkdirSync(folder, { recursive: true });
try {
  await stocktake();
  await readTimelines();
  await bringInLarge();
  await usage();
  await copyAndVerify();
} finally {
  await closeThreads();
  rmSync(folder, { recursive: true, force: true });
}
