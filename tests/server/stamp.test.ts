/** Answers are given again only while nothing is another that they were made of: held against answers made anew. */
import { randomUUID } from 'node:crypto';
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Place } from '../../src/core/media/item';
import { changeClips, makeBin } from '../../src/core/project/bins';
import type { Question } from '../../src/server/questions/questions';
import { Study } from '../../src/server/questions/study';
import { ToldSilence } from '../../src/server/stock/mounts';
import { registerShelf } from '../../src/server/stock/register-shelf';
import { ALL_CLIPS, ALL_USAGE, makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, copyStep, cutOf, cutTimeline, planOf, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
let study: Study;
beforeEach(() => {
  small = makeHouse();
  study = Study.open(small.house.config, new ToldSilence());
});
afterEach(async () => {
  study.catalogue.close();
  await small.remove();
});

it('every change that a view shows is in the next answer; a run that only journals leaves them as they are', async () => {
  const timelineId = await bringSounds(small, 'one.wav', 'two.wav');
  const { catalogue } = small.house;
  const { projectId } = small;
  const asks = ['projects', 'project', 'overview', 'timelines', 'bins'] as const;
  const questions: Question[] = [
    ...asks.map((ask) => ({ ask, projectId })),
    { ask: 'timeline', projectId, timelineId },
    { ask: 'clips', projectId, query: ALL_CLIPS },
    { ask: 'usage', projectId, request: { ...ALL_USAGE, timelineIds: [timelineId], list: 'used' } },
    { ask: 'usage', projectId, request: ALL_USAGE },
  ];
  const found = vi.spyOn(study as unknown as { found: (question: Question) => unknown }, 'found');
  // The list of projects is put together of what is kept of each.
  const made = () => found.mock.calls.filter(([{ ask }]) => ask !== 'projects').length;
  const askAll = () => Promise.all(questions.map((question) => study.answerJson(question)));
  /** Kept answers against those of a study that keeps none. */
  const mustBeTrue = async (change: string) => {
    const anew = Study.open(small.house.config, new ToldSilence());
    const fresh = await Promise.all(questions.map(async (question) => JSON.stringify(await anew.answer(question))));
    anew.catalogue.close();
    expect(await askAll(), change).toEqual(fresh);
  };
  await mustBeTrue('at first');
  const before = made();
  await askAll();
  expect(made()).toBe(before);

  const state = () => ({ bins: catalogue.bins.ofProject(projectId), clips: catalogue.clips.ofProject(projectId) });
  const relinkFirst = (place: Place) => {
    const { id, links } = state().clips[0]!.renditions[0]!;
    return catalogue.clips.relink(id, 0, { ...links[0]!, place });
  };
  const changes: [string, () => unknown][] = [
    ['a bin', () => catalogue.bins.edit(projectId, 'x', makeBin(state(), '', 'Takes'))],
    ['a clip renamed', () => catalogue.bins.edit(projectId, 'x', changeClips(state(), [state().clips[0]!.id], { name: 'Ladle' }))],
    ['undo', () => catalogue.bins.step(projectId, 'undo')],
    ['set aside', () => catalogue.clips.setAside(projectId, [state().clips[0]!.id], true)],
    ['a project renamed', () => catalogue.projects.rename(projectId, 'Bell')],
    ['a project opened', () => catalogue.projects.touch(projectId, new Date().toISOString())],
    ['settings', () => catalogue.projects.remember(projectId, 'pull', { a: 1 })],
    ['a shelf renamed', () => catalogue.shelves.put(small.source.id, 'OTHER', new Date().toISOString())],
    ['a timeline', () => small.bring(cutTimeline('Second', [cutOf('two.wav', 0, 3)], 'Audio'))],
    ['another file', () => (writeFileSync(join(small.source.root, 'one.wav'), wavBytes(9600, [], 9)), small.stocktake(small.source.id))],
    ['a file gone', () => (rmSync(join(small.source.root, 'two.wav')), small.stocktake(small.source.id))],
    ['a crate', () => catalogue.crates.add({ id: randomUUID(), projectId, name: 'C', place: { shelfId: small.vault.id, path: 'C' }, madeAt: new Date().toISOString(), bytes: 5, files: 1, runId: null, holds: null, checkedAt: null, about: {} }, { timelines: [], clips: [] }, 'somebody')], // prettier-ignore
    ['a link to another shelf', () => relinkFirst({ shelfId: small.vault.id, path: 'there.wav' })],
    ['a file that comes there', () => (writeFileSync(join(small.vault.root, 'there.wav'), wavBytes(9600, [], 3)), small.stocktake(small.vault.id))],
    ['a shelf away', () => rmSync(join(small.vault.root, '.mill-shelf.json'))],
    ['a shelf off the list', () => catalogue.shelves.retire(small.vault.id, new Date().toISOString())],
    ['a timeline removed', () => catalogue.timelines.remove(projectId, timelineId)],
  ];
  for (const [change, make] of changes) {
    await make();
    if (change === 'a timeline removed') questions.splice(questions.findIndex(({ ask }) => ask === 'timeline'));
    await mustBeTrue(change);
  }

  writeFileSync(join(small.source.root, 'x.bin'), 'x');
  await small.stocktake(small.source.id);
  registerShelf(small.house.catalogue, small.house.mounts, small.vault.root);
  const vault = small.house.catalogue.shelves.list().find(({ name }) => name === 'VAULT')!.id;
  await askAll();
  const still = made();
  // The project links files of the shelf that is read from; the checksum of what is read is entered there.
  expect(catalogue.clips.shelvesLinked(projectId)).toContain(small.source.id);
  const id = small.house.runner.submit(planOf(small, [{ ...copyStep(small, 'x.bin'), to: { shelfId: vault, path: 'x.bin' } }]));
  expect((await small.house.runner.finished(id)).state).toBe('done');
  expect(catalogue.items.at({ shelfId: small.source.id, path: 'x.bin' })!.sha256).toMatch(/^[0-9a-f]{64}$/);
  await askAll();
  expect(made()).toBe(still);
});
