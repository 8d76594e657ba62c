/** Other pictures under the same edit: made by ffmpeg as a grading would deliver them, exchanged, read, taken back. */
import { randomUUID } from 'node:crypto';
import { mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { ExchangeDetail } from '../../src/core/planning/exchange/exchange';
import type { ExchangeSettings } from '../../src/core/planning/exchange/settings';
import type { FinishDetail } from '../../src/core/planning/finish/finish';
import { readTimelineFile } from '../../src/core/interchange/read-timeline-file';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { bringIn } from '../../src/server/projects/bring-in';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { go, PAL, undo } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const away = (name: string) => join(house.vault.root, name);
const timelines = () => house.house.catalogue.timelines.entries(house.projectId);
const clips = () => house.house.catalogue.clips.ofProject(house.projectId);
const exchange = (timelineId: string, own: Partial<ExchangeSettings> = {}) =>
  house.plan({
    kind: 'exchange',
    settings: {
      timelineId,
      scope: { of: 'project' },
      among: 'folder',
      place: { shelfId: house.vault.id, path: '' },
      endings: '_graded',
      inFolders: '',
      what: 'picture',
      parts: false,
      newest: false,
      inPlace: false,
      name: '',
      choices: {},
      ...own,
    },
  });
const shots = async (timelineId: string, own: Partial<ExchangeSettings> = {}) =>
  ((await exchange(timelineId, own)).detail as ExchangeDetail).rows.map(({ record, fate, why, after }) => [record, fate, why, after?.name ?? null]);
const finish = async (timelineId: string) =>
  ((await house.plan({ kind: 'finish', settings: { timelineId, countDisabled: false } })).detail as FinishDetail).rows.map(({ place, problems }) => [place?.path, problems.length]); // prettier-ignore

/** As a grading delivers a shot: its frames `from` up to `to` of the source, their timecode, in a file of their own. */
async function grade(of: string, from: number, to: number, timecode: string, name: string): Promise<void> {
  mkdirSync(dirname(away(name)), { recursive: true });
  await ffmpeg('-i', at(of), '-vf', `trim=start_frame=${from}:end_frame=${to},setpts=PTS-STARTPTS,negate`, '-r', '25', '-c:v', 'mjpeg', '-q:v', '2', '-timecode', timecode, away(name)); // prettier-ignore
}

/** Two shots of one take, one of another. */
async function brought(): Promise<string> {
  await makeIntra(at('Forge.mov'), 60, '10:00:00:00');
  await makeIntra(at('Bell.mov'), 30, '11:00:00:00');
  await house.stocktake(house.source.id);
  const clip = (name: string, start: number, frames: number, from: number, length: number) => clipDocument(name, timeRange(start + from, length, PAL), externalReference(`file://${at(`${name}.mov`)}`, name, timeRange(start, frames, PAL))); // prettier-ignore
  const events = [clip('Forge', 900_000, 60, 5, 10), clip('Bell', 990_000, 30, 0, 20), clip('Forge', 900_000, 60, 40, 12)];
  const text = formatOtio(timelineDocument('Reel 1', rationalTime(90_000, PAL), [trackDocument('V1', 'Video', events)]));
  const { catalogue, mounts } = house.house;
  return bringIn(catalogue, mounts, house.projectId, readTimelineFile(text, PAL), 'reel.otio', null, randomUUID).timelineIds[0]!;
}

it('each shot gets its own file; what lacks is said; going back is one step', { timeout: 90_000 }, async () => {
  const id = await brought();
  await grade('Forge.mov', 3, 18, '10:00:00:03', 'Grade/Forge_graded.mov');
  await grade('Forge.mov', 41, 52, '10:00:01:16', 'Grade/late/Forge_graded.mov');
  await house.stocktake(house.vault.id);
  expect(await shots(id)).toEqual([
    ['01:00:00:00', 'exchanged', 'name and timecode', 'Forge_graded.mov'],
    ['01:00:00:10', 'none', 'nothing found', null],
    ['01:00:01:05', 'lacks', '1 frame lacks', null],
  ]);
  rmSync(away('Grade/late/Forge_graded.mov'));
  await grade('Forge.mov', 38, 55, '10:00:01:13', 'Grade/late/Forge_graded.mov');
  await house.stocktake(house.vault.id);
  const before = { clips: clips(), timelines: timelines() };
  const run = await go(house, await exchange(id));
  expect(run.run.state).toBe('done');
  const made = timelines().find(({ name }) => name === 'Reel 1 · exchanged')!;
  // What they took the place of had 10 bits.
  expect(await finish(made.id)).toEqual([['Grade/Forge_graded.mov', 1], ['Bell.mov', 0], ['Grade/late/Forge_graded.mov', 1]]); // prettier-ignore
  expect(await finish(id)).toEqual([['Forge.mov', 0], ['Bell.mov', 0], ['Forge.mov', 0]]); // prettier-ignore
  // What goes out and comes in again is the same timeline: its files are found by its addresses alone.
  const { catalogue, mounts } = house.house;
  const again = bringIn(catalogue, mounts, house.projectId, readTimelineFile(catalogue.timelines.document(made.id)!, PAL), 'x.otio', null, randomUUID); // prettier-ignore
  expect(again).toMatchObject({ timelineIds: [made.id], madeIds: [], newClips: 0 });
  await undo(house, run.id);
  expect({ clips: clips(), timelines: timelines() }).toEqual(before);
});

it('in its place: the old one is kept under another name, and comes back as it was', { timeout: 90_000 }, async () => {
  const id = await brought();
  await grade('Forge.mov', 0, 60, '10:00:00:00', 'Forge.mov');
  await house.stocktake(house.vault.id);
  const before = { timelines: timelines(), text: house.house.catalogue.timelines.document(id), clips: clips() };
  const run = await go(house, await exchange(id, { inPlace: true }));
  expect(timelines().map(({ name }) => name).sort()).toEqual(['Reel 1', 'Reel 1 · before the exchange']); // prettier-ignore
  const [now, old] = ['Reel 1', 'Reel 1 · before the exchange'].map((name) => timelines().find((one) => one.name === name)!);
  expect(await finish(now!.id)).toEqual([['Forge.mov', 1], ['Bell.mov', 0], ['Forge.mov', 1]]); // prettier-ignore
  const shelfOf = async (timelineId: string) => ((await house.plan({ kind: 'finish', settings: { timelineId, countDisabled: false } })).detail as FinishDetail).rows.map(({ place }) => place!.shelfId === house.vault.id); // prettier-ignore
  expect([await shelfOf(now!.id), await shelfOf(old!.id)]).toEqual([
    [true, false, true],
    [false, false, false],
  ]);
  // Exchanged already: its files are its source now, and nothing else is there.
  expect((await shots(now!.id)).map(([, fate]) => fate)).toEqual(['none', 'none', 'none']);
  await undo(house, run.id);
  expect({ timelines: timelines(), text: house.house.catalogue.timelines.document(id), clips: clips() }).toEqual(before);
});

it('another file in the place of the one that was seen is not taken, nor is a timeline that was removed', { timeout: 90_000 }, async () => {
  const id = await brought();
  await grade('Forge.mov', 0, 60, '10:00:00:00', 'Forge.mov');
  await house.stocktake(house.vault.id);
  const plan = await exchange(id);
  const told = async (of: typeof plan) => (await go(house, of)).rows.map(({ state, message }) => [state, message]);
  rmSync(away('Forge.mov'));
  await grade('Forge.mov', 0, 50, '10:00:00:00', 'Forge.mov');
  await house.stocktake(house.vault.id);
  const before = timelines();
  expect(await told(plan)).toEqual([['failed', 'Forge.mov is not what the plan saw any more. Look again.']]);
  expect(timelines()).toEqual(before);
  const other = await exchange(id, { name: 'Graded' });
  house.house.catalogue.timelines.remove(house.projectId, id);
  expect(await told(other)).toEqual([['failed', 'The timeline was removed after the plan was made. Look again.']]);
  expect(timelines()).toEqual([]);
});
