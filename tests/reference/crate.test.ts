/**
 * A crate against other people's tools: GNU `sha256sum -c` on its manifest, bagit 1.9.0 (RFC 8493) on the whole,
 * OpenTimelineIO 0.18.1 on its timelines. Then opened again at another place by ourselves.
 */
import { execFileSync } from 'node:child_process';
import { cpSync, existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  clipDocument,
  externalReference,
  rationalTime,
  timelineDocument,
  timeRange,
  timeWarp,
  trackDocument,
  transitionDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { readManifest } from '../../src/core/archive/bagit/bag';
import type { RunRow } from '../../src/server/catalogue/runs';
import { rate } from '../../src/core/time/rate';
import { readCrate } from '../../src/server/bundles/read-crate';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';

const PAL = rate(25);
const PYTHON = resolve('.venv/bin/python');
let small: SmallHouse;
let crate: string;
let run: RunRow;

beforeAll(async () => {
  small = makeHouse();
  await makeIntra(join(small.source.root, 'A001 säge.mov'), 200, '10:00:00:00');
  await makeIntra(join(small.source.root, 'second.mxf'), 100, '01:00:00:00', '25', [
    '-c:v',
    'dnxhd',
    '-profile:v',
    'dnxhr_lb',
    '-pix_fmt',
    'yuv422p',
  ]);
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=128x72:r=25', '-frames:v', '20', '-start_number', '1001', join(small.source.root, 'pour.%04d.dpx'));
  await ffmpeg('-f', 'lavfi', '-i', 'sine=d=8:r=48000', '-c:a', 'pcm_s24le', join(small.source.root, '50% bell #2.wav'));
  await small.stocktake(small.source.id);
  const media = (name: string, start: number, length: number) =>
    externalReference(`file:///Volumes/FOUNDRY-A/${encodeURIComponent(name)}`, name, timeRange(start, length, PAL));
  const document = timelineDocument('Cut & paste: 1/2', rationalTime(900_000, PAL), [
    trackDocument('V1', 'Video', [
      clipDocument('one', timeRange(900_050, 30, PAL), media('A001 säge.mov', 900_000, 200)),
      transitionDocument(5, 5, PAL),
      clipDocument('two', timeRange(90_040, 40, PAL), media('second.mxf', 90_000, 100), [timeWarp(0.5)]),
      clipDocument('three', timeRange(900_150, 20, PAL), media('A001 säge.mov', 900_000, 200)),
    ]),
    trackDocument('A1', 'Audio', [clipDocument('bell', timeRange(30, 80, PAL), media('50% bell #2.wav', 0, 200))]),
  ]);
  const timelineId = small.bring(document);
  const plan = await small.plan({
    kind: 'crate',
    settings: {
      timelineIds: [timelineId],
      media: 'parts',
      headFrames: 10,
      tailFrames: 10,
      joinGapFrames: 0,
      countDisabled: false,
      destination: { shelfId: small.vault.id, path: '' },
      crateName: 'Crate: one?',
      note: 'for the grade',
    },
  });
  run = await small.house.runner.finished(small.house.runner.submit(plan));
  crate = join(small.vault.root, 'Crate_ one_');
});
afterAll(() => small.remove());

it('is made without a failed step', () => {
  expect(small.house.catalogue.runs.steps(run.id).filter((row) => row.state !== 'done').map((row) => row.message)).toEqual([]); // prettier-ignore
  expect(run.state).toBe('done');
});

it('passes sha256sum -c, manifest and tag manifest', () => {
  for (const list of ['manifest-sha256.txt', 'tagmanifest-sha256.txt']) {
    const out = execFileSync('sha256sum', ['--strict', '-c', list], { cwd: crate, encoding: 'utf8' });
    expect(out.trim().split('\n').every((line) => line.endsWith(': OK'))).toBe(true); // prettier-ignore
  }
});

it('passes the reference BagIt validator, and fails it once a byte is changed', () => {
  const validate = (folder: string) => execFileSync(PYTHON, ['-m', 'bagit', '--validate', folder], { encoding: 'utf8', stdio: 'pipe' });
  expect(() => validate(crate)).not.toThrow();
  const broken = `${crate} broken`;
  cpSync(crate, broken, { recursive: true });
  const file = join(broken, 'data/report.html');
  writeFileSync(file, readFileSync(file, 'utf8').replace('Crate', 'crate'));
  expect(() => validate(broken)).toThrow();
});

it('opens in OpenTimelineIO: every link resolves in the crate, every source range is as it was, inside what is there', () => {
  const folder = join(crate, 'data/timelines');
  const [name] = readdirSync(folder);
  const script = `
import json, os, sys, urllib.parse
import opentimelineio as otio
timeline = otio.adapters.read_from_file(sys.argv[1])
base = os.path.dirname(sys.argv[1])
out = []
for clip in timeline.find_clips():
    path = os.path.normpath(os.path.join(base, urllib.parse.unquote(clip.media_reference.target_url)))
    s, a = clip.source_range, clip.media_reference.available_range
    out.append([clip.name, os.path.exists(path), s.start_time.value, s.duration.value, a.contains(clip.source_range)])
print(json.dumps(out))
`;
  const clips = JSON.parse(execFileSync(PYTHON, ['-c', script, join(folder, name!)], { encoding: 'utf8' })) as unknown[];
  expect(clips).toEqual([
    ['one', true, 900_050, 30, true],
    // At half speed 40 frames of record read 21 of the source; both readings of its range are there.
    ['two', true, 90_040, 40, true],
    ['three', true, 900_150, 20, true],
    ['bell', true, 30, 80, true],
  ]);
});

it('opens again as a new project at another place, with everything present', async () => {
  const elsewhere = join(small.source.root, 'moved here');
  cpSync(crate, elsewhere, { recursive: true });
  const plan = await small.plan({ kind: 'restore', settings: { crate: { shelfId: small.source.id, path: 'moved here' }, projectName: 'Opened' } });
  const opened = await small.house.runner.finished(small.house.runner.submit(plan));
  expect(opened.state).toBe('done');
  const clips = small.house.catalogue.clips.ofProject(opened.projectId!);
  const places = clips.flatMap(({ renditions, parts = [] }) => [...renditions, ...parts].flatMap(({ links }) => links[0].place ?? []));
  expect(clips.length).toBe(3);
  expect(places.map(({ path }) => path).sort()).toEqual([
    'moved here/data/media/picture/A001 säge_part1.mov',
    'moved here/data/media/picture/A001 säge_part2.mov',
    'moved here/data/media/picture/second.mxf',
    'moved here/data/media/sound/50_ bell #2.wav',
  ]);
  for (const place of places) expect(existsSync(small.house.mounts.resolve(place))).toBe(true);
});

describe('bags made by the reference library', () => {
  const vector = (name: string) => new URL(`./vectors/bagit/${name}/manifest-sha256.txt`, import.meta.url);
  it('are read: names with percent signs and umlauts too', () => {
    const { entries, badLines } = readManifest(readFileSync(vector('good'), 'utf8'));
    expect(badLines).toEqual([]);
    expect(entries.map((entry) => entry.path).sort()).toEqual([
      'data/Camera/Day 1/50% slow.mov',
      'data/Camera/Day 1/A001_C001.mov',
      'data/Sound/läute.wav',
      'data/empty.txt',
    ]);
  });
  it('tell missing and extra files before anything is read', async () => {
    for (const [name, code] of [
      ['missing', 'crate-missing'],
      ['extra', 'crate-extra'],
    ] as const) {
      cpSync(new URL(`./vectors/bagit/${name}`, import.meta.url), join(small.source.root, name), { recursive: true });
      await readCrate(small.house.mounts, { shelfId: small.source.id, path: name });
      const plan = await small.plan({ kind: 'restore', settings: { crate: { shelfId: small.source.id, path: name }, projectName: null } });
      expect(plan.findings.map((finding) => finding.code)).toContain(code);
    }
  });
});
