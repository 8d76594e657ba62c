/** Media is decoded before it is trusted: the very frame that does not come out is named; what was decoded once is not decoded again. */
import { execFileSync } from 'node:child_process';
import { closeSync, copyFileSync, openSync, readFileSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { CrateSettings } from '../../../src/core/planning/crate/settings';
import type { DecodeDetail } from '../../../src/core/planning/decode/decode';
import { decodeFrames } from '../../../src/server/media/decode';
import { probeFacts } from '../../../src/server/media/probe';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../../helpers/small-house';
import { cutOf, cutOfSequence, cutTimeline, go, makeFrames, pullSettings, states } from '../../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (name: string) => join(small.source.root, name);

/** Overwrites the begin of these stored pictures and puts nothing else out of place. */
function spoil(path: string, ...frames: number[]): void {
  const packets = execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'V:0', '-show_entries', 'packet=pos', '-of', 'csv=p=0', `file:${path}`], { encoding: 'utf8' }); // prettier-ignore
  const file = openSync(path, 'r+');
  for (const frame of frames) writeSync(file, Buffer.alloc(64, 0x5a), 0, 64, Number(packets.split('\n')[frame]!.replace(',', '')));
  closeSync(file);
}

const folder = (again = false) =>
  small.plan({ kind: 'decode', settings: { scope: { of: 'folder', place: { shelfId: small.source.id, path: '' } }, again } });
const used = (...timelineIds: string[]) => small.plan({ kind: 'decode', settings: { scope: { of: 'timelines', timelineIds }, again: false } });

it('the frames that are used, each of them; the very one that does not come out is named, and its clip is damaged from then on', async () => {
  await makeIntra(at('A001.mov'), 120, '10:00:00:00');
  copyFileSync(at('A001.mov'), at('B001.mov'));
  spoil(at('B001.mov'), 73);
  await small.stocktake(small.source.id);
  const whole = small.bring(cutTimeline('Whole', [cutOf('A001.mov', 10, 50), cutOf('B001.mov', 0, 70), cutOf('B001.mov', 74, 20)]));
  const broken = small.bring(cutTimeline('Broken', [cutOf('B001.mov', 60, 30)]));
  const good = await go(small, await used(whole));
  expect(good.rows.map(({ outcome, message }) => outcome?.checked ?? message)).toEqual([
    '50 of 50 frames decode',
    '90 of 90 frames decode',
    '140 of 140 frames decode',
  ]);
  const plan = await used(broken);
  // What lies between was not decoded yet.
  expect(plan.headline).toMatchObject({ value: 1, of: 1 });
  const bad = await go(small, plan);
  expect([bad.run.state, bad.rows[0]!.message]).toEqual(['failed', expect.stringContaining('B001.mov: ')]);
  expect(bad.rows[0]!.message).toMatch(/of \d+ frames decode, the fault is at 10:00:02:23 \(frame 73\)/);
  expect((await states(small))['B001.mov B001.mov']).toBe('damaged');
  expect((await states(small))['A001.mov A001.mov']).toBe('present');
}, 60_000);

it('all media of a folder: sequences with holes, stills, sound, streams without an index; a spoiled picture of a sequence by its number', async () => {
  await makeFrames(small.source.root, 'pour.', 1001, 12);
  execFileSync('rm', [at('pour.1005.dpx')]);
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36', '-frames:v', '1', `file:${at('50% title.png')}`);
  await ffmpeg('-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'aac', `file:${at('bell.m4a')}`);
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=25:d=2', '-c:v', 'mpeg2video', '-f', 'mpegts', `file:${at('card.mts')}`);
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=25:d=2', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-x264-params', 'open-gop=1:keyint=12', `file:${at('long.mov')}`); // prettier-ignore
  await small.stocktake(small.source.id);
  const done = await go(small, await folder());
  expect(done.rows.map(({ outcome, message }) => outcome?.checked ?? message)).toEqual(
    expect.arrayContaining(['11 of 11 frames decode', '1 of 1 picture decode', '50 of 50 frames decode', '112 of 112 frames decode']),
  );
  expect(done.run.state).toBe('done');
  expect((await folder()).blocked).toBe('Every frame was decoded before.');
  expect((await folder(true)).steps.length).toBe(6);
  const frame = openSync(at('pour.1009.dpx'), 'r+');
  writeSync(frame, Buffer.alloc(2048), 0, 2048, 0);
  closeSync(frame);
  await small.stocktake(small.source.id);
  const again = await go(small, await folder());
  expect(again.rows.flatMap(({ message }) => message ?? [])[0]).toContain(
    'pour.[1001-1012].dpx: 10 of 11 frames decode, the fault is at frame number 1009',
  );
}, 60_000);

it('pictures that begin after the sound, long groups, odd rates: any stretch of frames is counted exactly', async () => {
  const picture = (r: string) => ['-f', 'lavfi', '-i', `testsrc2=s=64x36:r=${r}:d=4`];
  const sound = ['-f', 'lavfi', '-i', 'sine=d=5:r=48000'];
  const late = ['-itsoffset', '0.23'];
  const made: Readonly<Record<string, readonly string[]>> = {
    'late.mov': [...late, ...picture('25'), ...sound, '-c:v', 'prores_ks', '-c:a', 'pcm_s16le'],
    'late.mp4': [...late, ...picture('30000/1001'), ...sound, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-bf', '3', '-g', '50', '-c:a', 'aac'],
    'film.mkv': [...picture('24000/1001'), ...sound, '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-bf', '3', '-c:a', 'aac'],
    'fast.mxf': [...picture('50'), ...sound, '-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-c:a', 'pcm_s16le'],
    'slow.mov': [...picture('24000/1001'), '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-x264-params', 'open-gop=1:keyint=24:bframes=3'],
  };
  const limits = { signal: new AbortController().signal, mustWait: () => false, tell: () => undefined };
  for (const [name, options] of Object.entries(made)) {
    await ffmpeg(...options, `file:${at(name)}`);
    const facts = await probeFacts(at(name), null);
    const length = facts.durationFrames!;
    for (const [start, end] of [[0, length], [0, 1], [1, 2], [length - 1, length], [17, 60], [length - 30, length]] as const) // prettier-ignore
      expect([name, start, end, await decodeFrames(at(name), facts, [{ start, end }], limits)]).toEqual([name, start, end, { frames: end - start, wanted: end - start, faults: [], complaint: null }]); // prettier-ignore
  }
}, 60_000);

it('what a run finds out goes into what the crate lacks, by the frame, and the clip is damaged from then on', async () => {
  await makeIntra(at('B001.mov'), 120, '10:00:00:00');
  spoil(at('B001.mov'), 50);
  await small.stocktake(small.source.id);
  const timelineId = small.bring(cutTimeline('Cut', [cutOf('B001.mov', 40, 30)]));
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId, { media: 'parts' });
  const settings: CrateSettings = { ...shared, crateName: 'Sealed', note: '' };
  const made = await go(small, await small.plan({ kind: 'crate', settings }));
  const [taken] = made.rows;
  // Packets are copied without being decoded: what is cut may be as spoiled as its source, and is then no proof of anything.
  if (taken!.outcome!.whole)
    expect(taken!.outcome!.checked).toContain('it is damaged: 29 of 30 frames decode, the fault is at 10:00:02:00 (frame 50)');
  const decoded = await go(small, await used(timelineId)).catch(() => null);
  expect(decoded === null || decoded.run.state === 'failed').toBe(true);
  expect((await states(small))['B001.mov B001.mov']).toBe('damaged');
});

it('a copy of what was decoded need not be: what a crate holds is known by its bytes', async () => {
  await makeFrames(small.source.root, 'pour.', 1, 6);
  await makeIntra(at('A001.mov'), 50, '10:00:00:00');
  await small.stocktake(small.source.id);
  const timelineId = small.bring(cutTimeline('Cut', [cutOf('A001.mov', 0, 50), cutOfSequence('', 'pour.', 1, 6, 0, 6)]));
  await go(small, await folder());
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  const settings: CrateSettings = { ...shared, crateName: 'Sealed', note: '' };
  const crate = await small.plan({ kind: 'crate', settings });
  expect(crate.lines.find(({ label }) => label === 'Decoded before')!.text).toBe('2 of 2 sources');
  expect((await go(small, crate)).run.state).toBe('done');
  expect(readFileSync(join(small.vault.root, 'Sealed/data/report.html'), 'utf8')).toContain(
    'Of 2 of 2 sources every used frame was decoded before: 56 frames without a fault.',
  );
  const plan = await small.plan({
    kind: 'decode',
    settings: { scope: { of: 'folder', place: { shelfId: small.vault.id, path: 'Sealed' } }, again: false },
  });
  const rows = (plan.detail as DecodeDetail).rows;
  expect(rows.find(({ name }) => name === 'A001.mov')).toMatchObject({ frames: 0, before: 50 });
});

it('every fault of a file is named, on the receipt and in the report of a crate that lacks it', async () => {
  for (const name of ['A001.mov', 'B001.mov']) await makeIntra(at(name), 120, '10:00:00:00');
  spoil(at('B001.mov'), 12, 50, 51, 52, 117);
  await small.stocktake(small.source.id);
  const timelineId = small.bring(cutTimeline('Cut', [cutOf('A001.mov', 0, 50), cutOf('B001.mov', 0, 120)]));
  const words = '115 of 120 frames decode, 3 faults: 10:00:00:12 (frame 12); 10:00:02:00 (frame 50), 3 frames and 10:00:04:17 (frame 117)';
  const { rows } = await go(small, await used(timelineId));
  expect(rows.flatMap(({ message }) => message ?? [])[0]).toContain(`B001.mov: ${words}`);
  const { folderName: _folder, ...shared } = pullSettings(small, timelineId);
  await go(small, await small.plan({ kind: 'crate', settings: { ...shared, crateName: 'Sealed', note: '' } }));
  expect(readFileSync(join(small.vault.root, 'Sealed/data/report.html'), 'utf8')).toContain(`not all of its file can be read: ${words}`);
}, 60_000);

it('where faults are all over, the search ends, and the stretches that were not looked into are told', async () => {
  await makeIntra(at('A001.mov'), 90, '10:00:00:00');
  const spoiled = Array.from({ length: 30 }, (_, index) => 3 * index + 1);
  spoil(at('A001.mov'), ...spoiled);
  const limits = { signal: new AbortController().signal, mustWait: () => false, tell: () => undefined, mostLooks: 24 };
  const { frames, faults } = await decodeFrames(at('A001.mov'), await probeFacts(at('A001.mov'), null), [{ start: 0, end: 90 }], limits);
  expect(frames).toBe(60);
  // None is left out, and the first are told to the frame.
  expect(spoiled.filter((frame) => !faults.some(({ start, end }) => start <= frame && frame < end))).toEqual([]);
  expect(faults[0]).toEqual({ start: 1, end: 2 });
}, 60_000);
