/**
 * What we write, handed live to other people's readers: lists to the CMX 3600 adapter 1.0.0 of OpenTimelineIO 0.18.1,
 * bundles to OpenTimelineIO itself and to unzip.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { TIMELINE_FILES } from '../../demo/timelines-script';
import { writeEdl } from '../../src/core/interchange/edl/edl-writer';
import {
  clipDocument,
  externalReference,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { activeReference, clipEvents, type ClipEvent, type Timeline } from '../../src/core/project/timeline';
import { rate, rateAsNumber, type Rate } from '../../src/core/time/rate';
import { PAL } from '../helpers/snapshots';
import { clipsSeen, ffmpeg, makeHouse, makeIntra } from '../helpers/small-house';
import { go } from '../helpers/trust-house';

const folder = mkdtempSync(join(tmpdir(), 'mill-live-'));
afterAll(() => rmSync(folder, { recursive: true }));

const python = (script: string, ...args: string[]) =>
  JSON.parse(execFileSync(resolve('.venv/bin/python'), ['-c', script, ...args], { encoding: 'utf8' })) as unknown;

const READ_EDL = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_file(sys.argv[1], rate=float(sys.argv[2]))
print(json.dumps([[[c.name, c.trimmed_range().start_time.value, c.trimmed_range().duration.value, [round(e.time_scalar, 4) for e in c.effects if hasattr(e, "time_scalar")], len(c.markers)] for c in track.find_clips()] for track in t.tracks]))
`;
type TheirClip = [string, number, number, number[], number];

const source = (event: ClipEvent) => {
  const name = activeReference(event)?.name ?? '';
  return { reel: name, file: `${name}.mov`, offsetFrames: 0 };
};

function theirs(text: string, r: Rate): TheirClip[][] {
  const file = join(folder, 'list.edl');
  writeFileSync(file, text);
  return python(READ_EDL, file, String(rateAsNumber(r))) as TheirClip[][];
}

describe('CMX 3600 lists that we write', () => {
  const flat = (name: string) => readTimelineFile(readFileSync(new URL(`./vectors/${name}`, import.meta.url), 'utf8'), PAL).timelines[0]!.timeline;
  const picture = (timeline: Timeline) => [...clipEvents(timeline.tracks.filter((track) => track.kind === 'video').slice(0, 1))];

  it('a flat cut opens there with our clips and ranges', () => {
    const timeline = flat('edl/flat.otio');
    const read = theirs(writeEdl(timeline, source).files[0]!.text, timeline.rate)[0]!;
    const ours = picture(timeline).map((event) => [event.name, event.sourceIn.value, event.sourceDuration.value]);
    expect(read.map(([name, start, length]) => [name, start, length])).toEqual(ours);
  });

  it('the fine cut of the demo opens there: every event, speeds and marks included', () => {
    const { timeline } = readTimelineFile(TIMELINE_FILES.find((file) => file.name === 'fine_cut_v7.otio')!.text, PAL).timelines[0]!;
    const [first] = writeEdl(timeline, source).files;
    const read = theirs(first!.text, PAL)[0]!;
    expect(read.map(([name]) => name)).toEqual(picture(timeline).map((event) => event.name));
    expect(read.find(([name]) => name === 'Hoist, slow')).toEqual(['Hoist, slow', 841_820, 100, [0.5], 0]);
    expect(read[0]![4]).toBe(1);
    // The dissolve takes 8 frames of the incoming clip before the cut; there the record ends 8 frames earlier.
    expect(read[0]!.slice(1, 3)).toEqual([831_100, 67]);
    expect(read[1]!.slice(1, 3)).toEqual([840_052, 98]);
  });

  it('at 23.976 and 24 too, sound on its channels', () => {
    for (const r of [rate(24), rate(24_000, 1001)]) {
      const shot = (name: string, from: number, length: number) =>
        clipDocument(name, timeRange(86_400 + from, length, r), externalReference(`/m/${name}.mov`, name, timeRange(86_400, 5000, r)));
      const document = timelineDocument('T', rationalTime(86_400, r), [
        trackDocument('V1', 'Video', [shot('A', 0, 30), shot('B', 100, 41)]),
        trackDocument('A1', 'Audio', [shot('S', 7, 71)]),
      ]);
      const { timeline } = readTimelineFile(JSON.stringify(document), r).timelines[0]!;
      const read = theirs(writeEdl(timeline, source).files[0]!.text, r);
      expect(read.map((track) => track.map(([name, start, length]) => [name, start, length]))).toEqual([
        [
          ['A', 86_400, 30],
          ['B', 86_500, 41],
        ],
        [['S', 86_407, 71]],
      ]);
    }
  });
});

const READ_BUNDLE = `
import json, os, sys
import opentimelineio as otio
path, into = sys.argv[1], sys.argv[2]
t = otio.adapters.read_from_file(path, extract_to_directory=into) if path.endswith('otioz') else otio.adapters.read_from_file(path, absolute_media_reference_paths=True)
out = []
for c in t.find_clips():
    r = c.media_reference
    url = getattr(r, 'target_url', None)
    there = False
    if url:
        p = otio.url_utils.filepath_from_url(url)
        there = os.path.exists(p if os.path.isabs(p) else os.path.join(into, p))
    out.append([c.name, type(r).__name__, there, c.trimmed_range().start_time.value, c.trimmed_range().duration.value])
print(json.dumps(out))
`;

describe('bundles', () => {
  it.each(['otioz', 'otiod'] as const)('%s opens there with the same clips, and its media is found', async (format) => {
    const small = makeHouse();
    try {
      mkdirSync(join(small.source.root, 'Day 1'));
      await makeIntra(join(small.source.root, 'Day 1', 'läute 1.mov'), 30, '10:00:00:00');
      await small.stocktake(small.source.id);
      const shot = (url: string, from: number) =>
        clipDocument('Bell', timeRange(900_000 + from, 10, PAL), externalReference(url, 'Bell', timeRange(900_000, 30, PAL)));
      const id = small.bring(
        timelineDocument('Bell', rationalTime(0, PAL), [
          trackDocument('V1', 'Video', [shot('/Volumes/FOUNDRY-A/Day 1/läute 1.mov', 3), shot('/nowhere/b.mov', 5)]),
        ]),
      );
      const plan = await small.plan({
        kind: 'export',
        settings: { timelineIds: [id], format, destination: { shelfId: small.vault.id, path: '' }, folderName: '' },
      });
      expect((await small.house.runner.finished(small.house.runner.submit(plan))).state).toBe('done');
      const into = join(folder, `into-${format}`);
      mkdirSync(into);
      const path = join(small.vault.root, `Bell.${format}`);
      if (format === 'otioz') expect(execFileSync('unzip', ['-Z1', path], { encoding: 'utf8' })).toContain('content.otio\nversion.txt\nmedia/');
      expect(python(READ_BUNDLE, path, into)).toEqual([
        ['Bell', 'ExternalReference', true, 900_003, 10],
        ['Bell', 'MissingReference', false, 900_005, 10],
      ]);
    } finally {
      await small.remove();
    }
  });

  it('made by OpenTimelineIO 0.18.1 comes in: its folder in place, its ZIP unpacked onto a shelf', async () => {
    const small = makeHouse();
    try {
      const vectors = new URL('./vectors/otio/', import.meta.url);
      const bundle = join(small.source.root, 'bundle.otioz');
      writeFileSync(bundle, readFileSync(new URL('bundle.otioz', vectors)));
      const plan = await small.plan({
        kind: 'unpack',
        settings: {
          bundle: { shelfId: small.source.id, path: 'bundle.otioz' },
          destination: { shelfId: small.vault.id, path: '' },
          folderName: 'in',
        },
      });
      expect((await small.house.runner.finished(small.house.runner.submit(plan))).state).toBe('done');
      const media = join(small.vault.root, 'in/media');
      for (const name of readdirSync(media))
        expect(readFileSync(join(media, name))).toEqual(readFileSync(new URL(`bundle.otiod/media/${name}`, vectors)));
      const views = await clipsSeen(small);
      // Their media is text in the vectors: what is linked is found, and is no movie.
      expect(views.map((view) => [view.place?.path, view.state])).toEqual([
        ['in/media/one.mov', 'damaged'],
        ['in/media/two.mov', 'damaged'],
      ]);
    } finally {
      await small.remove();
    }
  });
});

const READ_FRAMES = `
import json, sys
import opentimelineio as otio
t = otio.adapters.read_from_file(sys.argv[1])
out = []
for c in t.find_clips():
    r, span = c.media_reference, c.trimmed_range()
    frames = [r.frame_for_time(span.start_time + otio.opentime.RationalTime(k, span.duration.rate)) for k in range(int(span.duration.value))]
    out.append([round(r.rate, 3), [r.target_url_for_image_number((f - r.start_frame) // r.frame_step).split('/')[-1] for f in frames]])
print(json.dumps(out))
`;

describe('numbered frames under an exchange', () => {
  it.each([
    ['24000/1001', rate(24_000, 1001)],
    ['24', rate(24)],
    ['30000/1001', rate(30_000, 1001)],
    ['60000/1001', rate(60_000, 1001)],
  ])('at %s the library finds the very frames: none repeated, none left out', async (name, r) => {
    const small = makeHouse();
    try {
      const [fps, start] = [Math.round(r.num / r.den), Math.round(r.num / r.den) * 3600 * 10];
      await makeIntra(join(small.source.root, 'pour.mov'), 60, '10:00:00:00', name);
      mkdirSync(join(small.vault.root, 'pour'));
      await ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=64x36:r=${name}`, '-frames:v', '50', '-start_number', String(start + 7), join(small.vault.root, 'pour', 'pour.%07d.dpx')); // prettier-ignore
      for (const shelf of [small.source, small.vault]) await small.stocktake(shelf.id);
      const shot = (from: number, length: number) => clipDocument('Pour', timeRange(start + from, length, r), externalReference(`file://${join(small.source.root, 'pour.mov')}`, 'pour', timeRange(start, 60, r))); // prettier-ignore
      const id = small.bring(timelineDocument('Reel', rationalTime(fps * 3600, r), [trackDocument('V1', 'Video', [shot(10, 20), shot(41, 16)])]));
      const settings = { timelineId: id, scope: { of: 'project' as const }, among: 'folder' as const, place: { shelfId: small.vault.id, path: '' }, endings: '', inFolders: '', what: 'picture' as const, parts: false, newest: false, inPlace: true, name: '', choices: {} }; // prettier-ignore
      expect((await go(small, await small.plan({ kind: 'exchange', settings }))).run.state).toBe('done');
      const [entry] = small.house.catalogue.timelines.entries(small.projectId).filter((own) => own.name === 'Reel');
      await go(small, await small.plan({ kind: 'export', settings: { timelineIds: [entry!.id], format: 'otio', destination: { shelfId: small.vault.id, path: '' }, folderName: 'out' } })); // prettier-ignore
      const names = (from: number, length: number) =>
        Array.from({ length }, (_, index) => `pour.${String(start + from + index).padStart(7, '0')}.dpx`);
      const own = Math.round((r.num / r.den) * 1000) / 1000;
      expect(python(READ_FRAMES, join(small.vault.root, 'out/Reel.otio'))).toEqual([
        [own, names(10, 20)],
        [own, names(41, 16)],
      ]);
    } finally {
      await small.remove();
    }
  });
});
