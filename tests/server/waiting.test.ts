/** Runs that take turns say for whom they wait; what is remembered; where a file is found. */
import { truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { renewed } from '../../src/islands/shared/renewed';
import { runSummary } from '../../src/server/usecases/runs';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { copyStep, planOf } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const sparse = (name: string, bytes: number) => {
  writeFileSync(join(small.source.root, name), name);
  truncateSync(join(small.source.root, name), bytes);
};
const summary = (id: number) => runSummary(small.house, small.house.catalogue.runs.get(id)!);

it('a run that waits behind another names it, also while that one is resumed; a paused one waits for nobody', async () => {
  sparse('long.bin', 3_000_000_000);
  sparse('short.bin', 10);
  const { runner } = small.house;
  const first = runner.submit(planOf(small, [copyStep(small, 'long.bin')]));
  while (runner.progress(first)!.current.length === 0) await wait(5);
  const second = runner.submit(planOf(small, [copyStep(small, 'short.bin')]));
  while (summary(second).waitsFor === null) await wait(5);
  expect(summary(second)).toMatchObject({ waitsFor: first, projectName: 'Test' });
  expect(summary(first).waitsFor).toBeNull();
  // Paused, the first gives up its turn: the second comes through.
  runner.pause(first);
  await runner.finished(second);
  expect(summary(second)).toMatchObject({ state: 'done', waitsFor: null });
  expect(summary(first)).toMatchObject({ state: 'paused', waitsFor: null });
  runner.cancel(first);
  await runner.finished(first);
});

it('what is chosen is kept beside other choices of the same name, and null is a choice', () => {
  const { projects } = small.house.catalogue;
  projects.remember(small.projectId, 'pull', { destination: { shelfId: 's', path: '' }, headFrames: 25 });
  projects.remember(small.projectId, 'pull', { destination: null });
  projects.remember(small.projectId, 'crate', { headFrames: 3 });
  expect(projects.remembered(small.projectId)).toEqual({ pull: { destination: null, headFrames: 25 }, crate: { headFrames: 3 } });
});

it('the day of a name is made new, other days stay', () => {
  const kept = { on: '2026-11-26', crateName: 'Mix 2026-11-26', note: 'since 2026-11-02', headFrames: 3, destination: null };
  expect(renewed(kept, '2026-12-01')).toEqual({ crateName: 'Mix 2026-12-01', note: 'since 2026-11-02', headFrames: 3, destination: null });
  expect(renewed({ crateName: 'Mix 2026-11-26' }, '2026-12-01')).toEqual({ crateName: 'Mix 2026-11-26' });
});

it('a file is found on whichever shelf it stands, not on one that was taken off the list', async () => {
  writeFileSync(join(small.source.root, 'bell strike.bin'), 'a');
  writeFileSync(join(small.vault.root, 'the bell.bin'), 'b');
  for (const { id } of [small.source, small.vault]) await small.stocktake(id);
  const find = (filter: string) =>
    small.house.catalogue.items
      .window(null, { filter, sort: 'path', down: false, only: null, limit: 10, offset: 0 })
      .rows.map(({ place }) => place.path);
  expect(find('bell')).toEqual(['bell strike.bin', 'the bell.bin']);
  expect(find('bell str')).toEqual(['bell strike.bin']);
  small.house.catalogue.shelves.retire(small.vault.id, new Date().toISOString());
  expect(find('bell')).toEqual(['bell strike.bin']);
});
