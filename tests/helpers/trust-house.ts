/** A small house with media that is quick to make, and what tests of runs do again and again. */
import { appendFileSync, closeSync, openSync, readFileSync, statSync, truncateSync, utimesSync, writeFileSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { fdir } from 'fdir';
import type { OtioObject } from '../../src/core/interchange/otio/otio-types';
import {
  clipDocument,
  externalReference,
  rationalTime,
  sequenceReference,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import type { CopyStep, Step } from '../../src/core/planning/plan/step';
import type { Plan } from '../../src/core/planning/plan/plan';
import type { PullSettings } from '../../src/core/planning/pull/settings';
import { rate } from '../../src/core/time/rate';
import { clipState, type LinkState } from '../../src/core/project/clip';
import { StockView } from '../../src/core/planning/plan/stock-view';
import { takeSnapshot } from '../../src/server/projects/snapshot';
import { ffmpeg, type SmallHouse } from './small-house';

export const PAL = rate(25);

/** A 16-bit mono WAV at 48 kHz whose samples say where they stand; `extra` chunks come before the data. */
export function wavBytes(samples: number, extra: readonly (readonly [string, Buffer])[] = [], seed = 0): Buffer {
  const chunk = (id: string, content: Buffer) => {
    const head = Buffer.alloc(8);
    head.write(id, 'latin1');
    head.writeUInt32LE(content.length, 4);
    return Buffer.concat([head, content, Buffer.alloc(content.length % 2)]);
  };
  const format = Buffer.alloc(16);
  format.writeUInt16LE(1, 0);
  format.writeUInt16LE(1, 2);
  format.writeUInt32LE(48_000, 4);
  format.writeUInt32LE(96_000, 8);
  format.writeUInt16LE(2, 12);
  format.writeUInt16LE(16, 14);
  const data = Buffer.alloc(samples * 2);
  for (let index = 0; index < samples; index++) data.writeInt16LE(((index * 31 + seed * 7919) % 65_536) - 32_768, index * 2);
  const body = Buffer.concat([Buffer.from('WAVE'), chunk('fmt ', format), ...extra.map(([id, content]) => chunk(id, content)), chunk('data', data)]);
  return chunk('RIFF', body);
}

/** An event of `frames` at 25 a second of the file `path` on FOUNDRY-A, `from` counted from its first frame. */
export function cutOf(path: string, from: number, frames: number): OtioObject {
  return clipDocument(path, timeRange(from, frames, PAL), externalReference(`/Volumes/FOUNDRY-A/${path}`, path, timeRange(0, 100_000, PAL)));
}

export function cutOfSequence(folder: string, prefix: string, first: number, length: number, from: number, frames: number): OtioObject {
  const parts = { folderUrl: `/Volumes/FOUNDRY-A/${folder}`, prefix, suffix: '.dpx', padding: 4, startNumber: first, rate: PAL };
  return clipDocument(prefix, timeRange(from, frames, PAL), sequenceReference(parts, prefix, timeRange(0, length, PAL)));
}

export function cutTimeline(name: string, children: OtioObject[], kind: 'Video' | 'Audio' = 'Video'): OtioObject {
  return timelineDocument(name, rationalTime(0, PAL), [trackDocument('T1', kind, children)]);
}

/** Numbered DPX frames below a folder that exists. */
export async function makeFrames(folder: string, prefix: string, first: number, count: number, source = 'testsrc2'): Promise<void> {
  await ffmpeg(
    '-f', 'lavfi', '-i', `${source}=s=64x36:r=25`, '-frames:v', String(count), '-start_number', String(first), `file:${join(folder, `${prefix}%04d.dpx`)}`,
  ); // prettier-ignore
}

/** Short sounds on FOUNDRY-A and a timeline that uses all of them; gives its id. */
export async function bringSounds(house: SmallHouse, ...names: string[]): Promise<string> {
  names.forEach((name, index) => writeFileSync(join(house.source.root, name), wavBytes(48_000, [], index)));
  await house.stocktake(house.source.id);
  const cuts = names.map((name) => cutOf(name, 0, 10));
  return house.bring(cutTimeline(`Cut of ${names.join(' ')}`, cuts, 'Audio'));
}

export function pullSettings(house: SmallHouse, timelineId: string, own: Partial<PullSettings> = {}): PullSettings {
  return {
    timelineIds: [timelineId],
    media: 'whole',
    headFrames: 0,
    tailFrames: 0,
    joinGapFrames: 0,
    countDisabled: false,
    destination: { shelfId: house.vault.id, path: '' },
    folderName: 'pulled',
    ...own,
  };
}

/** Submits and waits for the end; the run with its steps. */
export async function go(house: SmallHouse, plan: Plan) {
  if (plan.blocked !== null) throw new Error(plan.blocked);
  const id = house.house.runner.submit(plan);
  return endOf(house, id);
}

export async function endOf(house: SmallHouse, id: number) {
  const run = await house.house.runner.finished(id);
  return { id, run, rows: house.house.catalogue.runs.steps(id) };
}

export async function undo(house: SmallHouse, runId: number, confirmed = true) {
  return go(house, await house.plan({ kind: 'undo', settings: { runId, confirmed } }));
}

/** What a step holds against the file as it is now, in whole milliseconds of the exact time: a rounded one may be the next. */
export function heldNow(path: string): { sizeBytes: number; modifiedMs: number } {
  const info = statSync(path, { bigint: true });
  return { sizeBytes: Number(info.size), modifiedMs: Number(info.mtimeMs) };
}

export function copyStep(house: SmallHouse, name: string, to = name, phase = 0): CopyStep {
  const mustHold = heldNow(join(house.source.root, name));
  return {
    action: 'copy',
    phase,
    from: { shelfId: house.source.id, path: name },
    to: { shelfId: house.vault.id, path: to },
    expectedBytes: mustHold.sizeBytes,
    bytesExact: true,
    reason: 'test',
    mustHold,
  };
}

export function planOf(house: SmallHouse, steps: readonly Step[]): Plan {
  const headline = { value: 0, of: 0, unit: 'bytes' as const, words: '' };
  return {
    kind: 'pull',
    title: 'Test run',
    projectId: house.projectId,
    headline,
    lines: [],
    fills: [],
    findings: [],
    steps,
    blocked: null,
    detail: null,
  };
}

/** A file of `bytes` that takes next to no room on the disk. */
export function sparse(path: string, bytes: number): void {
  writeFileSync(path, path);
  truncateSync(path, bytes);
}

/** Writes into the middle of a file and puts its times back: only its change time tells. */
export function alterInSecret(path: string, at = 0, text = 'ALTERED'): void {
  const { atime, mtime } = statSync(path);
  const file = openSync(path, 'r+');
  writeSync(file, text, at);
  closeSync(file);
  utimesSync(path, atime, mtime);
}

export function append(path: string): void {
  appendFileSync(path, 'x');
}

/** Waits until the run has moved so many bytes. */
export async function untilMoved(house: SmallHouse, id: number, bytes: number): Promise<void> {
  for (let tries = 0; (house.house.runner.progress(id)?.bytes ?? Infinity) < bytes; tries++) {
    if (tries > 3000) throw new Error('the run does not move');
    await wait(5);
  }
}

/** Files below a folder, markers and hidden ones too, by their path. */
export function filesBelow(folder: string): string[] {
  return new fdir().withRelativePaths().crawl(folder).sync().filter((path) => path !== '.mill-shelf.json').sort(); // prettier-ignore
}

export function isEqual(a: string, b: string): boolean {
  return readFileSync(a).equals(readFileSync(b));
}

/** Link state of each clip of the project by its name, as every screen has it. */
export async function states(house: SmallHouse, projectId = house.projectId): Promise<Record<string, LinkState>> {
  const snapshot = (await takeSnapshot(house.house.catalogue, house.house.mounts, projectId))!;
  const stock = new StockView(snapshot);
  return Object.fromEntries(
    snapshot.clips.map((clip) => [`${clip.name} ${clip.renditions[0]?.links[0]?.place?.path ?? ''}`, clipState(clip, stock)]),
  );
}
