/** Runs beside each other: what stands on one, what a broken one left, what a waiting one is about to do. Who knew a timeline finds the one in its place. */
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { ExchangeSettings } from '../../src/core/planning/exchange/settings';
import { OWN_SCHEMES } from '../../src/core/scheme/own-schemes';
import type { ProxyDetail } from '../../src/core/planning/proxies/proxies';
import { keepAttributes } from '../../src/server/actions/made/keep-attributes';
import { Study } from '../../src/server/questions/study';
import { cut, timeline } from '../helpers/snapshots';
import { ffmpeg, makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { clipsOfAll, proxyPlan } from '../helpers/proxy-house';
import { sortSettings } from '../helpers/sort-house';
import { bringSounds, go, pullSettings, wavBytes } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const at = (name: string) => join(house.source.root, name);
const timelines = () => house.house.catalogue.timelines.entries(house.projectId);
const undoPlan = (runId: number) => house.plan({ kind: 'undo', settings: { runId, confirmed: true } });
const ask = <T>(question: Parameters<Study['answer']>[0]) => new Study(house.house.catalogue, house.house.mounts).answer(question) as Promise<T>;

async function graded(version: string): Promise<void> {
  const path = join(house.vault.root, version, 'Forge_graded.mov');
  mkdirSync(join(house.vault.root, version), { recursive: true });
  await ffmpeg('-i', at('Forge.mov'), '-vf', version === 'v1' ? 'negate' : 'hflip', '-r', '25', '-c:v', 'mjpeg', '-q:v', '2', '-timecode', '10:00:00:00', path); // prettier-ignore
}

it('of two exchanges in one place the later is undone first; the timeline is found by every id it ever had', { timeout: 60_000 }, async () => {
  await makeIntra(at('Forge.mov'), 50, '10:00:00:00');
  await house.stocktake(house.source.id);
  const first = house.bring(timeline('Reel 1', [cut(`file://${at('Forge.mov')}`, 5, 20, 900_000, undefined, 50)]));
  await graded('v1');
  await graded('v2');
  await house.stocktake(house.vault.id);
  const settings = (timelineId: string, version: string): ExchangeSettings => ({
    timelineId, scope: { of: 'project' }, among: 'folder', place: { shelfId: house.vault.id, path: version }, endings: '_graded',
    inFolders: '', what: 'picture', parts: false, newest: false, inPlace: true, name: '', choices: {},
  }); // prettier-ignore
  const older = await go(house, await house.plan({ kind: 'exchange', settings: settings(first, 'v1') }));
  const second = timelines().find(({ name }) => name === 'Reel 1')!.id;
  house.house.catalogue.projects.remember(house.projectId, 'pull', { timelineIds: [first] });
  const later = await go(house, await house.plan({ kind: 'exchange', settings: settings(second, 'v2') }));
  expect([older.run.state, later.run.state]).toEqual(['done', 'done']);
  const third = timelines().find(({ name }) => name === 'Reel 1')!.id;
  expect(new Set([first, second, third]).size).toBe(3);

  // A page, a list and a plan that know it by its first name.
  for (const timelineId of [first, second, third])
    expect(await ask({ ask: 'timeline', projectId: house.projectId, timelineId })).toMatchObject({ id: third, name: 'Reel 1' });
  expect(await ask({ ask: 'project', projectId: house.projectId })).toMatchObject({ remembered: { pull: { timelineIds: [third] } } });
  const { plan } = await ask<{ plan: { title: string } }>({ ask: 'plan', projectId: house.projectId, request: { kind: 'finish', settings: { timelineId: first, countDisabled: false } } }); // prettier-ignore
  expect(plan.title).toBe('Finish check of Reel 1');

  const below = await undoPlan(older.run.id);
  expect(below.blocked).toBe(`Undo run ${later.run.id}, Exchange under Reel 1, first: it exchanged a timeline of this run.`);
  expect(below.steps).toEqual([]);
  expect((await go(house, await undoPlan(later.run.id))).run.state).toBe('done');
  expect(await ask({ ask: 'timeline', projectId: house.projectId, timelineId: third })).toMatchObject({ id: second });
  expect((await go(house, await undoPlan(older.run.id))).run.state).toBe('done');
  expect(timelines().map(({ id, name }) => [id, name])).toEqual([[first, 'Reel 1']]);
  for (const timelineId of [second, third])
    expect(await ask({ ask: 'timeline', projectId: house.projectId, timelineId })).toMatchObject({ id: first });
});

it('of two sorts the later is undone first; an undo that left every file where it was can be asked for again', { timeout: 60_000 }, async () => {
  await makeIntra(at('Forge.mov'), 25, '10:00:00:00');
  await house.stocktake(house.source.id);
  house.bring(timeline('Reel 1', [cut(`file://${at('Forge.mov')}`, 0, 10, 900_000, undefined, 25)]));
  const place = () => house.house.catalogue.clips.ofProject(house.projectId)[0]!.renditions[0]!.links[0]!.place!.path;
  const sort = async (rootName: string) => {
    const run = await go(house, await house.plan({ kind: 'sort', settings: sortSettings(house.source.id, { scheme: OWN_SCHEMES[0]!, rootName }) }));
    expect(run.run.state).toBe('done');
    return run.run.id;
  };
  const [older, between] = [await sort('First'), place()];
  const [later, last] = [await sort('Second'), place()];
  expect(new Set(['Forge.mov', between, last]).size).toBe(3);
  expect((await undoPlan(older)).blocked).toBe(
    `Undo run ${later}, ${house.house.catalogue.runs.get(later)!.title}, first: it moved 1 file of this run on.`,
  );

  // Somebody took the file away: nothing can be put back, and that is no undo.
  renameSync(at(last), at('aside.mov'));
  const vain = await go(house, await undoPlan(later));
  const { runs } = house.house.catalogue;
  expect([vain.run.state, runs.get(later)!.undoneBy, runs.get(later)!.undoingBy]).toEqual(['failed', null, null]);
  expect(
    vain.rows
      .map(({ message }) => message)
      .filter((message) => message !== null)
      .join(),
  ).toMatch(/was taken back: what it did was changed or moved since/);
  renameSync(at('aside.mov'), at(last));
  expect((await go(house, await undoPlan(later))).run.state).toBe('done');
  expect(place()).toBe(between);
  expect((await go(house, await undoPlan(older))).run.state).toBe('done');
  expect([place(), existsSync(at('Forge.mov'))]).toEqual(['Forge.mov', true]);
});

it('a pull beside what a broken one left says so, and undoing that one clears it', { timeout: 60_000 }, async () => {
  const id = await bringSounds(house, 'one.wav', 'two.wav');
  const request = { kind: 'pull' as const, settings: pullSettings(house, id) };
  const codes = async () => (await house.plan(request)).findings.map(({ code }) => code);
  expect(await codes()).not.toContain('left-there');
  // The second source goes while the first is done.
  const plan = await house.plan(request);
  rmSync(at('two.wav'));
  const broken = await go(house, plan);
  expect(broken.run.state).toBe('failed');
  writeFileSync(at('two.wav'), wavBytes(48_000, [], 1));
  await house.stocktake(house.source.id);
  const again = await house.plan(request);
  expect(again.findings.find(({ code }) => code === 'left-there')?.message).toBe(`Run ${broken.run.id} broke off and left 1 file of these in that folder: the new ones would stand beside it under other names.`); // prettier-ignore
  expect((await go(house, await undoPlan(broken.run.id))).run.state).toBe('done');
  expect(await codes()).not.toContain('left-there');
});

it('what a waiting run will make counts as being made, and what it will take is not offered once more', { timeout: 60_000 }, async () => {
  await makeIntra(at('Forge.mov'), 10, '10:00:00:00');
  await makeIntra(at('Bell.mov'), 10, '11:00:00:00');
  await clipsOfAll(house);
  const { catalogue } = house.house;
  const proxies = (clips: readonly string[] | null) => proxyPlan(house, clips ? { scope: { of: 'clips', clipIds: clips } } : {});
  const [bell] = catalogue.clips.ofProject(house.projectId).filter(({ name }) => name === 'Bell');
  const waiting = catalogue.runs.add(await proxies([bell!.id]), new Date().toISOString());
  const { detail, lines, headline } = await proxies(null);
  expect((detail as ProxyDetail).rows.map(({ name, fate, why }) => [name, fate, why])).toEqual([
    ['Bell', 'being made', `by run ${waiting}`],
    ['Forge', 'made', ''],
  ]);
  expect([headline.value, lines.find(({ label }) => label === 'Being made')?.text]).toEqual([1, `1, by run ${waiting}`]);
  expect((await proxies([bell!.id])).blocked).toBe('What is lacking is being made.');
  catalogue.runs.setState(waiting, 'cancelled', new Date().toISOString());
  expect((await proxies(null)).headline.value).toBe(2);

  const sort = (own = {}) => house.plan({ kind: 'sort', settings: sortSettings(house.source.id, { scheme: OWN_SCHEMES[0]!, ...own }) });
  const moving = catalogue.runs.add(await sort(), new Date().toISOString());
  expect(await sort({ rootName: 'Elsewhere' })).toMatchObject({ steps: [], blocked: `Run ${moving}, ${catalogue.runs.get(moving)!.title}, is about to take 2 files of these.` }); // prettier-ignore
  // A copy to another shelf would read what is on its way from here too.
  expect((await sort({ action: 'copy', destination: { shelfId: house.vault.id, path: '' } })).blocked).toMatch(/is about to take/);
  catalogue.runs.setState(moving, 'failed', new Date().toISOString());
  expect((await sort()).blocked).toBeNull();
});

it('attributes go to the very copy, or nowhere: where it went meanwhile no empty file stands for it', async () => {
  writeFileSync(at('one.txt'), 'bell');
  writeFileSync(at('copy.txt'), 'bell');
  expect(await keepAttributes(at('one.txt'), at('copy.txt'))).toBeNull();
  await expect(keepAttributes(at('one.txt'), at('gone.txt'))).rejects.toThrow('Nothing was removed');
  await expect(keepAttributes(at('nothing.txt'), at('copy.txt'))).resolves.toMatch(/not kept/);
});
