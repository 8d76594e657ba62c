/** Reading, relinking and pulling on real files, hostile names and broken files among them. */
import { copyFileSync, existsSync, mkdirSync, readdirSync, renameSync, unlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Stocktaking } from '../../src/server/stock/stocktake';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  clipDocument,
  externalReference,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import type { TakenDetail } from '../../src/core/planning/taking/taken';
import type { Plan } from '../../src/core/planning/plan/plan';
import { rate } from '../../src/core/time/rate';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';

const PAL = rate(25);
const HOSTILE = ['-y option.mov', 'new\nline.mov', 'quo\'te "s.mov', 'http:--x|y.mov', 'p%03d.png', '$(touch owned).mov', 'säge ✂ 鐘.mov'];
let small: SmallHouse;
let first: Stocktaking;
let good: string;

beforeAll(async () => {
  small = makeHouse();
  const { root } = small.source;
  good = join(small.folder, 'good.mov');
  await makeIntra(good, 50, '10:00:00:00');
  for (const name of HOSTILE.filter((entry) => entry.endsWith('.mov'))) copyFileSync(good, join(root, name));
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=25', '-frames:v', '1', '-update', '1', `file:${join(root, 'still.png')}`);
  renameSync(join(root, 'still.png'), join(root, 'p%03d.png'));
  mkdirSync(join(root, 'frames'));
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=64x36:r=25', '-frames:v', '6', '-start_number', '1001', `file:${join(root, 'frames/f.%04d.dpx')}`);
  writeFileSync(join(root, 'broken.mov'), 'this is no movie');
  writeFileSync(join(root, 'sly.mov'), '#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile:///etc/passwd\n#EXT-X-ENDLIST\n');
  writeFileSync(join(root, 'empty.wav'), '');
  first = await small.stocktake(small.source.id);
}, 120_000);
afterAll(() => small.remove());

describe('a stocktake', () => {
  it('shows single frames of a sequence', async () => {
    const item = small.house.catalogue.items.onShelf(small.source.id).find((entry) => entry.facts.kind === 'sequence')!;
    const at = (number: number) => small.house.mounts.resolve({ shelfId: small.source.id, path: `frames/f.${number}.dpx` });
    const [a, b] = [await small.house.posters.frame(item, at(1001), 0), await small.house.posters.frame(item, at(1006), 5)];
    expect(a?.subarray(0, 2).toString('hex')).toBe('ffd8');
    expect(b).not.toEqual(a);
  });

  it('reads files whose names a shell or ffmpeg could take for something else', async () => {
    const items = new Map(small.house.catalogue.items.onShelf(small.source.id).map((item) => [item.place.path, item]));
    for (const name of HOSTILE) {
      expect(items.get(name)?.problem, name).toBeNull();
      const item = items.get(name)!;
      const picture = await small.house.posters.frame(item, small.house.mounts.resolve(item.place), 0);
      expect(picture?.subarray(0, 2).toString('hex'), name).toBe('ffd8');
    }
    expect(items.get('-y option.mov')!.facts).toMatchObject({
      kind: 'video',
      durationFrames: 50,
      startTimecode: '10:00:00:00',
      reel: 'A001',
      video: { codec: 'prores', bitDepth: 10, alpha: false },
      audio: [{ channels: 1, sampleRate: 48000, bitDepth: 24 }],
    });
    expect(readdirSync('.').includes('owned')).toBe(false);
  });

  it('says what cannot be read, and goes on', () => {
    const items = new Map(small.house.catalogue.items.onShelf(small.source.id).map((item) => [item.place.path, item]));
    for (const name of ['broken.mov', 'sly.mov', 'empty.wav'])
      expect(items.get(name)!.problem, name).toMatch(/cannot be read|no picture|not read here/);
    expect(first).toMatchObject({ state: 'done', problems: 3 });
  });

  it('reads nothing twice, a copy of what is known neither, but what had a problem, once more, and sees what is gone', async () => {
    const extra = join(small.source.root, 'extra.mov');
    copyFileSync(good, extra);
    expect(await small.stocktake(small.source.id)).toMatchObject({ readFiles: 3, goneFiles: 0 });
    unlinkSync(extra);
    // All three lie in the content, and are settled.
    expect(await small.stocktake(small.source.id)).toMatchObject({ readFiles: 0, goneFiles: 1 });
  });
});

describe('relinking', () => {
  const relink = (choices: Record<string, string | null> = {}) =>
    small.plan({ kind: 'relink', settings: { scope: null, choices } }) as Promise<Plan<RelinkDetail>>;

  it('takes what is proven, and of what nobody saw the only file that fits, which is said; the points stay', async () => {
    const folder = join(small.source.root, 'Day 1');
    mkdirSync(folder);
    await makeIntra(join(folder, 'proven.mov'), 80, '11:00:00:00');
    await small.stocktake(small.source.id);
    const reference = (name: string) => externalReference(`/Volumes/FOUNDRY-A/Day 1/${name}`, name, timeRange(990_000, 80, PAL));
    small.bring(
      timelineDocument('R', rationalTime(0, PAL), [
        trackDocument('V1', 'Video', [
          clipDocument('a', timeRange(990_010, 20, PAL), reference('proven.mov')),
          clipDocument('b', timeRange(990_010, 20, PAL), reference('unseen.mov')),
        ]),
      ]),
    );
    renameSync(folder, join(small.source.root, 'Renamed'));
    mkdirSync(join(small.source.root, 'Other'));
    await makeIntra(join(small.source.root, 'Other/proven.mov'), 60, '12:00:00:00');
    await makeIntra(join(small.source.root, 'Other/unseen.mov'), 80, '11:00:00:00', '25', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj422p']);
    await small.stocktake(small.source.id);

    const plan = await relink();
    const rows = plan.detail.groups.flatMap((group) => group.rows);
    const proven = rows.find((row) => row.fileName === 'proven.mov')!;
    const unseen = rows.find((row) => row.fileName === 'unseen.mov')!;
    expect(proven).toMatchObject({ state: 'missing', matches: [{ strength: 'proven', place: { path: 'Renamed/proven.mov' } }] });
    expect(proven.chosen).not.toBeNull();
    expect(unseen).toMatchObject({ matches: [{ strength: 'matched', by: 'name and timecode', place: { path: 'Other/unseen.mov' } }] });
    expect(unseen.chosen).toBe(unseen.matches[0]!.itemId);
    expect(plan.headline).toMatchObject({ value: 2, of: 2 });
    expect((await relink({ [unseen.clipId]: null })).headline).toMatchObject({ value: 1, of: 2 });
    expect(plan.detail).toMatchObject({ found: 2, offline: 2 });

    const accepted = await relink({ [unseen.clipId]: unseen.matches[0]!.itemId });
    const { timelines } = small.house.catalogue;
    const documents = () => timelines.entries(small.projectId).map(({ id }) => timelines.document(id));
    const before = documents();
    const run = await small.house.runner.finished(small.house.runner.submit(accepted));
    expect(run.state).toBe('done');
    expect((await relink()).detail.offline).toBe(0);
    expect(documents()).toEqual(before);

    const undo = await small.plan({ kind: 'undo', settings: { runId: run.id } });
    await small.house.runner.finished(small.house.runner.submit(undo));
    expect((await relink()).detail.offline).toBe(2);
    expect(small.house.catalogue.runs.get(run.id)!.undoneBy).not.toBeNull();
    await small.house.runner.finished(small.house.runner.submit(accepted));
  });

  it('sees another take under the same name', async () => {
    const path = join(small.source.root, 'Renamed/proven.mov');
    unlinkSync(path);
    await makeIntra(path, 90, '11:00:00:00');
    await small.stocktake(small.source.id);
    const plan = await relink();
    expect(plan.detail.groups.map((group) => group.state)).toEqual(['changed']);
    expect(plan.detail.groups[0]!.rows[0]!.chosen).toBeNull();
    unlinkSync(path);
  });
});

describe('pulling', () => {
  it('a one-minute take of which ten seconds are used, with 25-frame handles, keeps 300 frames; undo removes them', async () => {
    // Common practice; arithmetic: 250 + 25 + 25.
    await makeIntra(join(small.source.root, 'minute.mov'), 1500, '10:00:00:00', '25', ['-c:v', 'mjpeg', '-q:v', '20', '-pix_fmt', 'yuvj420p']);
    await small.stocktake(small.source.id);
    const reference = externalReference('/Volumes/FOUNDRY-A/minute.mov', 'minute', timeRange(900_000, 1500, PAL));
    const id = small.bring(
      timelineDocument('P', rationalTime(0, PAL), [trackDocument('V1', 'Video', [clipDocument('ten', timeRange(900_500, 250, PAL), reference)])]),
    );
    const settings = {
      timelineIds: [id],
      media: 'parts' as const,
      headFrames: 25,
      tailFrames: 25,
      joinGapFrames: 0,
      countDisabled: false,
      destination: { shelfId: small.vault.id, path: '' },
      folderName: 'pulled',
    };
    const plan = (await small.plan({ kind: 'pull', settings })) as Plan<TakenDetail>;
    expect(plan.detail.rows[0]).toMatchObject({ method: 'trim', used: [{ start: 500, end: 750 }], kept: [{ start: 475, end: 775 }] });
    const run = await small.house.runner.finished(small.house.runner.submit(plan));
    expect(run.state).toBe('done');
    const made = small.house.catalogue.items.at({ shelfId: small.vault.id, path: 'pulled/media/picture/minute.mov' });
    expect(made?.facts).toMatchObject({ durationFrames: 300, startTimecode: '10:00:19:00' });
    expect(made!.sizeBytes).toBeLessThan(plan.detail.rows[0]!.ofBytes * 0.25);

    const undo = await small.plan({ kind: 'undo', settings: { runId: run.id } });
    expect((await small.house.runner.finished(small.house.runner.submit(undo))).state).toBe('done');
    expect(existsSync(join(small.vault.root, 'pulled'))).toBe(false);
    expect(existsSync(join(small.source.root, 'minute.mov'))).toBe(true);
  });

  it('is blocked, with a next step, by a destination that is missing, read-only or too small', async () => {
    const [timeline] = small.house.catalogue.timelines.entries(small.projectId).slice(-1);
    const settings = {
      timelineIds: [timeline!.id],
      media: 'whole' as const,
      headFrames: 0,
      tailFrames: 0,
      joinGapFrames: 0,
      countDisabled: false,
      destination: null,
      folderName: 'x',
    };
    const plan = await small.plan({ kind: 'pull', settings });
    expect(plan).toMatchObject({ blocked: 'No destination is chosen.', steps: [] });
    expect(plan.findings[0]!.hint).toBeTruthy();
  });
});
