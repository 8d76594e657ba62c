/** Bins and clips by hand, and clips of several items, on the real catalogue with real files. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { appendIxml } from '../../demo/make-media';
import {
  clipDocument,
  externalReference,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { recordingOf } from '../../src/core/media/companions';
import { findUsedMedia } from '../../src/core/planning/taking/used-media';
import { reportUsage } from '../../src/core/usage/usage-report';
import { addClips, changeClips, dissolveBin, makeBin, moveBin, renameBin, tidy, type BinChange, type BinState } from '../../src/core/project/bins';
import { clipOfItems } from '../../src/server/projects/make-clip';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import { makePlan } from '../../src/server/kinds/make-plan';
import { takeSnapshot } from '../../src/server/projects/snapshot';
import { cut, item, PAL, timeline } from '../helpers/snapshots';
import { ffmpeg, makeHouse, type SmallHouse, seen } from '../helpers/small-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const state = (): BinState => ({
  bins: small.house.catalogue.bins.ofProject(small.projectId),
  clips: small.house.catalogue.clips.ofProject(small.projectId),
});
const edit = (title: string, change: BinChange) => small.house.catalogue.bins.edit(small.projectId, title, change);
const snapshot = async () => (await takeSnapshot(small.house.catalogue, small.house.mounts, small.projectId))!;
const put = (path: string, facts = {}) => {
  const made = item(path, facts, { id: randomUUID(), place: { shelfId: small.source.id, path } });
  small.house.catalogue.items.put(made);
  return made;
};
const picture = () =>
  state()
    .clips.map((clip) => `${clip.binPath}:${clip.name}`)
    .sort();

describe('edits of bins', () => {
  it('make, move, rename and dissolve bins with their clips, and every step can be taken back and done again', () => {
    const clips = ['a', 'b'].map((name) => clipOfItems([put(`${name}.mov`)], 'Rushes/Day 1', randomUUID));
    edit('bins', makeBin(state(), '', 'Rushes'));
    edit('day', makeBin(state(), 'Rushes', 'Day 1'));
    edit('clips', addClips(clips));
    edit('best', makeBin(state(), '', 'Best'));
    edit('move', changeClips(state(), [clips[0]!.id], { binPath: 'Best', note: 'hums', colour: 'ochre' }));
    edit('in', moveBin(state(), 'Rushes', 'Best'));
    edit('name', renameBin(state(), 'Best', 'Selects'));
    expect(picture()).toEqual(['Selects/Rushes/Day 1:b', 'Selects:a']);
    edit('gone', dissolveBin(state(), 'Selects/Rushes'));
    expect(picture()).toEqual(['Selects/Day 1:b', 'Selects:a']);

    const { bins } = small.house.catalogue;
    const seen: string[][] = [picture()];
    while (bins.step(small.projectId, 'undo')) seen.push(picture());
    expect([state().bins, state().clips, seen.length]).toEqual([[], [], 9]);
    const again: string[][] = [picture()];
    while (bins.step(small.projectId, 'redo')) again.push(picture());
    expect(again).toEqual([...seen].reverse());
    expect(state().clips.find((clip) => clip.name === 'a')).toMatchObject({ note: 'hums', colour: 'ochre' });
    // A new edit ends what could be done again.
    bins.step(small.projectId, 'undo');
    edit('new', makeBin(state(), '', 'New'));
    expect(bins.next(small.projectId).redo).toBeNull();
  });

  it('refuse what makes no sense, in a sentence', () => {
    edit('bins', makeBin(state(), '', 'A'));
    edit('bins', makeBin(state(), 'A', 'B'));
    expect(() => makeBin(state(), '', 'A')).toThrow('called "A" already');
    expect(() => makeBin(state(), 'X', 'Y')).toThrow('no bin "X"');
    expect(() => moveBin(state(), 'A', 'A/B')).toThrow('into itself');
    expect(() => renameBin(state(), 'A', ' ')).toThrow('needs a name');
    expect(makeBin(state(), '', 'Day 1/2').putBins[0]!.path).toBe('Day 1-2');
  });

  it('tidy takes out only what no timeline uses, with its words; undo brings it back as it was', async () => {
    small.bring(timeline('t', [cut('file:///Volumes/FOUNDRY-A/used.mov', 0, 10)]));
    put('spare.mov');
    const spare = { ...clipOfItems([put('spare.mov')], 'Spare', randomUUID), note: 'maybe' };
    edit('spare', addClips([spare]));
    const unused = new Set(small.house.catalogue.clips.unused(small.projectId));
    const used = new Set(
      state()
        .clips.map((clip) => clip.id)
        .filter((id) => !unused.has(id)),
    );
    edit('tidy', tidy(state(), used, ''));
    expect(state().clips).toHaveLength(1);
    expect(() => tidy(state(), used, '')).toThrow('used by a timeline');
    small.house.catalogue.bins.step(small.projectId, 'undo');
    expect(state().clips.find((clip) => clip.id === spare.id)).toEqual(spare);
    expect(await seen(small, 'bins')).toMatchObject({ undo: 'spare', redo: 'tidy' });
  });

  it('a timeline taken out leaves clips that somebody annotated', () => {
    const id = small.bring(timeline('t', [cut('/x/a.mov', 0, 10), cut('/x/b.mov', 0, 10)]));
    const kept = state().clips.find((clip) => clip.name === '/x/a.mov')!;
    edit('note', changeClips(state(), [kept.id], { note: 'keep' }));
    const { catalogue } = small.house;
    catalogue.transaction(() => catalogue.clips.removeUnused(catalogue.timelines.remove(small.projectId, id)));
    expect(state().clips.map((clip) => clip.name)).toEqual(['/x/a.mov']);
  });
});

describe('a clip of several items', () => {
  async function record(): Promise<void> {
    const folder = join(small.source.root, 'Interview');
    mkdirSync(folder);
    const video = ['-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=25:d=4', '-c:v', 'prores', '-pix_fmt', 'yuv422p10le'];
    await ffmpeg(...video, '-timecode', '10:02:00:00', '-metadata:s:v:0', 'reel_name=A003', '-y', `file:${join(folder, 'A003_C001.mov')}`);
    for (const [name, first] of [
      ['A003_T1.wav', 1_733_760_000],
      // This recorder began 480 samples (a quarter of a frame) later.
      ['A003_T2.wav', 1_733_760_480],
    ] as const) {
      const sound = ['-f', 'lavfi', '-i', 'sine=r=48000:d=4', '-c:a', 'pcm_s24le', '-write_bext', '1', '-metadata', `time_reference=${first}`];
      await ffmpeg(...sound, '-y', `file:${join(folder, name)}`);
      appendIxml(join(folder, name), { TAPE: 'A003' });
    }
    await small.stocktake(small.source.id);
  }

  it('is tied by reel and timecode, read by track, exact on the sample, and relinked item by item', async () => {
    await record();
    const items = small.house.catalogue.items.onShelf(small.source.id);
    const mov = items.find((entry) => entry.place.path.endsWith('.mov'))!;
    expect(recordingOf(mov, items).map((entry) => entry.place.path.split('/').at(-1))).toEqual(['A003_C001.mov', 'A003_T1.wav', 'A003_T2.wav']);

    const reference = externalReference('file:///Volumes/FOUNDRY-A/Interview/A003_C001.mov', 'talk', timeRange(903_000, 100, PAL));
    const event = clipDocument('talk', timeRange(903_025, 25, PAL), reference);
    const sound = externalReference('file:///Volumes/FOUNDRY-A/Interview/A003_T2.wav', 'talk', timeRange(903_000, 100, PAL));
    const document = timelineDocument('t', rationalTime(0, PAL), [
      trackDocument('V1', 'Video', [event]),
      trackDocument('A1', 'Audio', [clipDocument('talk', timeRange(903_050, 10, PAL), sound)]),
    ]);
    const id = small.bring(document);
    expect(state().clips.map((clip) => clip.renditions[0]!.links.length)).toEqual([3]);
    const used = findUsedMedia(await snapshot(), { timelineIds: [id], media: 'parts', headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false }); // prettier-ignore
    expect(used.items.map((entry) => [entry.item.place.path.split('/').at(-1), entry.used])).toEqual([
      ['A003_C001.mov', [{ start: 25, end: 50 }]],
      ['A003_T2.wav', [{ start: 95_520, end: 114_720 }]],
    ]);

    const report = reportUsage(await snapshot(), { timelineIds: [id], bins: [], clipIds: [], countDisabled: false });
    expect(report.items.map((entry) => [entry.name, entry.picture.length, entry.sound.length])).toEqual([
      ['A003_C001.mov', 1, 0],
      ['A003_T2.wav', 0, 1],
    ]);
    expect(report.neverUsed.map((entry) => entry.name)).toEqual(['A003_T1.wav']);

    rmSync(join(small.source.root, 'Interview/A003_T2.wav'));
    await small.stocktake(small.source.id);
    const { catalogue, mounts } = small.house;
    const plan = await makePlan(catalogue, mounts, small.projectId, { kind: 'relink', settings: { scope: null, choices: {} } });
    const rows = (plan.detail as RelinkDetail).groups.flatMap((group) => group.rows);
    expect(rows.map((row) => [row.fileName, row.position, row.state])).toEqual([['A003_T2.wav', 2, 'missing']]);
  });
});
