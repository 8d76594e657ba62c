/** Bringing timelines into a project, and what the screens are told of it. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { OverviewView } from '../../src/server/projects/views/project';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { clipDocument, externalReference, formatOtio, rationalTime, sequenceReference, timeRange } from '../../src/core/interchange/otio/otio-writer';
import type { OtioObject } from '../../src/core/interchange/otio/otio-types';
import { rate, type Rate } from '../../src/core/time/rate';
import { bringIn } from '../../src/server/projects/bring-in';
import { takeSnapshot } from '../../src/server/projects/snapshot';
import { timelineView } from '../../src/server/projects/timeline-views';
import { cut, item, PAL, timeline } from '../helpers/snapshots';
import { clipsSeen, seen, makeHouse, type SmallHouse } from '../helpers/small-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const at = (path: string) => `file:///Volumes/FOUNDRY-A/${path}`;
const snapshot = async () => (await takeSnapshot(small.house.catalogue, small.house.mounts, small.projectId))!;
const put = (path: string, sizeBytes = 1000) => {
  const made = item(path, {}, { id: randomUUID(), place: { shelfId: small.source.id, path }, sizeBytes });
  small.house.catalogue.items.put(made);
  return made;
};

describe('bringing in', () => {
  it('makes one clip of one source, over all timelines and shapes of its address', async () => {
    put('Day 1/a.mov');
    small.bring(timeline('one', [cut(at('Day%201/a.mov'), 0, 10), cut('/Volumes/FOUNDRY-A/Day 1/a.mov', 50, 10)]));
    small.bring(timeline('two', [cut('D:\\edit\\FOUNDRY-A\\Day 1\\a.mov', 0, 10), cut('//elsewhere/b.mov', 0, 10)]));
    const views = await clipsSeen(small);
    expect(views.map((view) => [view.place?.path ?? null, view.state, view.events])).toEqual(
      expect.arrayContaining([
        ['Day 1/a.mov', 'present', 3],
        [null, 'missing', 1],
      ]),
    );
    expect(views).toHaveLength(2);
  });

  it('remembers the timecode a timeline states, at the rate of its length; 0 says nothing, nor does one between two frames', async () => {
    const stated = (value: number, r: Rate) => ({ ...timeRange(0, 1000, PAL), start_time: rationalTime(value, r) });
    const shot = (name: string, range: OtioObject) =>
      clipDocument(name, timeRange(100, 10, PAL), externalReference(`//elsewhere/${name}`, name, range));
    small.bring(timeline('t', [shot('a.mov', stated(0, PAL)), shot('b.mov', stated(900_000, PAL)), shot('c.mov', stated(48_000, rate(48_000))), shot('d.mov', stated(1, rate(24)))])); // prettier-ignore
    const clips = (await snapshot()).clips.map(({ name, renditions }) => [name, renditions[0]!.links[0]!.expected.startFrame]);
    expect(Object.fromEntries(clips)).toEqual({ 'a.mov': null, 'b.mov': 900_000, 'c.mov': 25, 'd.mov': null });
  });

  it('keeps the single mark of a clip list, to the end of the media', async () => {
    const file = readTimelineFile('Name,File,In\nFork,//elsewhere/fork.mov,10:00:00:05\n', PAL);
    bringIn(small.house.catalogue, small.house.mounts, small.projectId, file, 'list.csv', null, randomUUID);
    expect((await snapshot()).clips[0]!.marks).toEqual({ inFrame: 900_005, outFrame: null, rate: PAL });
  });

  it('finds names stored decomposed, and frames named from the middle of a sequence', async () => {
    put('la\u0308ute.mov');
    const sequence = { prefix: 'pour.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1100, missingRuns: [] };
    small.house.catalogue.items.put(
      item(
        'pour.[1001-1100].dpx',
        { kind: 'sequence', rate: null, durationFrames: 100, startFrame: null, sequence },
        { id: randomUUID(), place: { shelfId: small.source.id, path: 'pour.[1001-1100].dpx' } },
      ),
    );
    const parts = { folderUrl: at(''), prefix: 'pour.', suffix: '.dpx', padding: 4, startNumber: 1041, rate: PAL };
    const frames: OtioObject = {
      ...cut('x', 0, 10),
      source_range: timeRange(5, 10, PAL),
      media_references: { DEFAULT_MEDIA: sequenceReference(parts, 'pour', timeRange(0, 60, PAL)) },
    };
    const id = small.bring(timeline('t', [cut(at('l\u00e4ute.mov'), 0, 10), frames]));
    const state = await snapshot();
    expect((await clipsSeen(small)).map((view) => view.state)).toEqual(['present', 'present']);
    const row = small.house.catalogue.timelines.entries(small.projectId)[0]!;
    const view = timelineView(
      small.house.catalogue,
      row,
      state.timelines.find((entry) => entry.id === id)!,
      state,
    );
    // Frame 5 of the reference is number 1046: item frame 45.
    expect(view.sources.find((source) => source.name.startsWith('pour'))!.used).toEqual([{ start: 45, end: 55 }]);
  });

  it('keeps the bins of a collection and clips that no timeline uses; a timeline taken out takes its own clips along', async () => {
    put('a.mov');
    const bin: OtioObject = { OTIO_SCHEMA: 'SerializableCollection.1', name: 'Selects', metadata: {}, children: [cut(at('unused.mov'), 0, 10)] };
    const collection: OtioObject = {
      OTIO_SCHEMA: 'SerializableCollection.1',
      name: 'All',
      metadata: {},
      children: [timeline('t', [cut(at('a.mov'), 0, 10)]), bin],
    };
    const { catalogue, mounts } = small.house;
    const done = bringIn(catalogue, mounts, small.projectId, readTimelineFile(formatOtio(collection), PAL), 'all.otio', null, randomUUID);
    expect(done).toMatchObject({ newClips: 2, events: 1 });
    expect((await clipsSeen(small)).map((view) => [view.name, view.binPath, view.events])).toEqual(
      expect.arrayContaining([[at('unused.mov'), 'Selects', 0]]),
    );
    catalogue.clips.removeUnused(catalogue.timelines.remove(small.projectId, done.timelineIds[0]!));
    expect(await clipsSeen(small)).toHaveLength(1);
  });

  it('resolves relative links from the document’s folder, and not out of the shelf', async () => {
    put('job/media/a.mov');
    const document = formatOtio(timeline('t', [cut('../media/a.mov', 0, 10), cut('../../../etc/passwd', 0, 10), cut('bare.mov', 0, 10)]));
    bringIn(
      small.house.catalogue,
      small.house.mounts,
      small.projectId,
      readTimelineFile(document, PAL),
      't.otio',
      { shelfId: small.source.id, path: 'job/timelines' },
      randomUUID,
    );
    const places = Object.fromEntries((await clipsSeen(small)).map((view) => [view.url, view.place?.path ?? null]));
    expect(places).toEqual({ '../media/a.mov': 'job/media/a.mov', '../../../etc/passwd': null, 'bare.mov': null });
  });
});

describe('the overview', () => {
  it('adds up bytes, folders and shelves, and says what to do next', async () => {
    put('Day 1/a.mov', 4000);
    put('Day 2/b.mov', 1000);
    small.bring(timeline('t', [cut(at('Day%201/a.mov'), 0, 10), cut(at('Day%202/b.mov'), 0, 10), cut(at('Day%202/lost.mov'), 0, 10)]));
    const view = await seen<OverviewView>(small, 'overview');
    expect(view).toMatchObject({
      mediaBytes: 5000,
      usedBytes: 5000,
      folders: 2,
      shelves: 1,
      events: 3,
      offlineEvents: 1,
      states: { present: 2, missing: 1 },
      lastCrate: null,
    });
    expect(view.advice.map((advice) => advice.title)).toEqual(['Relink 1 missing clip', 'Make the first crate']);
    expect(view.byKind).toEqual([
      { kind: 'video', bytes: 5000, items: 2 },
      { kind: 'other', bytes: 0, items: 1 },
    ]);

    const lost = (await clipsSeen(small)).find((clip) => clip.state === 'missing')!;
    small.house.catalogue.clips.setAside(small.projectId, [lost.id], true);
    expect((await clipsSeen(small)).find((clip) => clip.id === lost.id)!.state).toBe('set-aside');
  });

  it('sees a shelf go and come back at once', async () => {
    put('a.mov');
    small.bring(timeline('t', [cut(at('a.mov'), 0, 10)]));
    const { renameSync } = await import('node:fs');
    const away = join(small.folder, '..', `gone-${process.pid}`);
    renameSync(small.source.root, away);
    small.house.mounts.lookAgain();
    expect((await clipsSeen(small))[0]!.state).toBe('unplugged');
    renameSync(away, small.source.root);
    expect((await clipsSeen(small))[0]!.state).toBe('present');
  });
});

it('a crate whose manifest points outside is not opened', async () => {
  const root = join(small.source.root, 'sly');
  mkdirSync(join(root, 'data'), { recursive: true });
  writeFileSync(join(root, 'bagit.txt'), 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n');
  writeFileSync(join(root, 'manifest-sha256.txt'), `${'0'.repeat(64)}  data/../../secret\n`);
  const open = (path: string) => small.plan({ kind: 'restore', settings: { crate: { shelfId: small.source.id, path }, projectName: null } });
  await expect(open('sly')).rejects.toThrow('lies outside the crate');
  await expect(open('sly/data')).rejects.toThrow('no bagit.txt');
});

it('what is remembered of a project has an end: it is sent with every look at it', () => {
  const { projects } = small.house.catalogue;
  const choices = (letter: string) => ({ choices: letter.repeat(900_000) });
  expect(['a', 'b', 'c', 'd', 'e'].map((name) => projects.remember(small.projectId, name, choices(name)))).toEqual([true, true, true, true, false]);
  // What is kept stays, and may become less.
  expect(Object.keys(projects.remembered(small.projectId))).toEqual(['a', 'b', 'c', 'd']);
  expect(projects.remember(small.projectId, 'a', { choices: '' })).toBe(true);
  expect(projects.remember(small.projectId, 'e', choices('e'))).toBe(true);
});
