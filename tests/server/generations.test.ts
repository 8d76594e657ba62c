/** Generations of renditions: which is read, one step back and on again, new ones, and what all the rest makes of them. */
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { GenerationsDetail } from '../../src/core/planning/generations/generations';
import type { ProxySettings } from '../../src/core/planning/proxies/settings';
import type { TakeAlongDetail } from '../../src/core/planning/take-along/take-along';
import { clipsOfAll, proxyPlan } from '../helpers/proxy-house';
import { makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { go, states, undo } from '../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const clips = () => house.house.catalogue.clips.ofProject(house.projectId);
const idsOf = (...names: string[]) => clips().filter(({ name }) => names.includes(name)).map(({ id }) => id); // prettier-ignore
const plan = (read: string | null, ...names: string[]) =>
  house.plan({ kind: 'generations', settings: { scope: names.length > 0 ? { of: 'clips', clipIds: idsOf(...names) } : { of: 'project' }, rendition: 'proxy', read } }); // prettier-ignore
const told = async (read: string | null = null) => (await plan(read)).detail as GenerationsDetail;
const reads = async () => Object.fromEntries((await told()).rows.map(({ name, readsNow }) => [name, readsNow]));
const make = async (folderName: string, names: string[], own: Partial<ProxySettings> = {}) =>
  go(house, await proxyPlan(house, { scope: { of: 'clips', clipIds: idsOf(...names) }, presetId: 'pocket', onlyLacking: false, folderName, ...own }));

it('several generations in order, one step back, on again, and what comes later is read again by itself', { timeout: 120_000 }, async () => {
  for (const [index, name] of ['A', 'B', 'C'].entries()) await makeIntra(join(house.source.root, `${name}.mov`), 12, `1${index}:00:00:00`);
  await clipsOfAll(house);
  const burnIn = { lines: ['clip' as const], text: '', where: 'bottom' as const, opacity: 0.8 };
  await make('Working set', ['A', 'B', 'C'], { burnIn });
  // A second one comes in two deliveries that meet in no clip: it is one.
  await make('Second', ['A']);
  await make('Second', ['B']);
  await make('Third', ['A'], { size: { by: 'share', share: 4 } });
  const { generations } = await told();
  expect(generations.map(({ key, name, clips: many, burnIn: burned, readNow }) => [key, name, many, burned, readNow])).toEqual([
    ['with-1', 'VAULT / Working set', 3, true, 1],
    ['with-2', 'VAULT / Second', 2, false, 1],
    ['with-4', 'VAULT / Third', 1, false, 1],
  ]);
  expect(await reads()).toEqual({ A: 'with-4', B: 'with-2', C: 'with-1' });
  // Four pictures of one frame.
  const row = (await told()).rows.find(({ name }) => name === 'A')!;
  expect([row.source!.frame, ...row.cells.map(({ frame }) => frame)]).toEqual([6, 6, 6, 6]);

  // A run that was broken off and resumed later, or a timeline that came in between: in the order of the runs.
  const { catalogue: own } = house.house;
  const [clip] = clips().filter(({ name }) => name === 'A');
  const one = clip!.renditions.find(({ cameBy }) => cameBy === 1)!;
  own.clips.addRendition(clip!.id, { ...one, id: 'late', cameBy: 3 });
  expect(await reads()).toMatchObject({ A: 'with-4' });
  own.clips.removeRenditions(['late']);

  const back = await go(house, await plan('with-2'));
  expect(await reads()).toEqual({ A: 'with-2', B: 'with-2', C: 'with-1' });
  const first = await go(house, await plan('with-1'));
  expect(await reads()).toEqual({ A: 'with-1', B: 'with-1', C: 'with-1' });
  expect((await plan('with-1')).blocked).toBe('That is what is read already.');
  // One clip alone goes on again.
  await go(house, await plan('with-4', 'A'));
  expect(await reads()).toEqual({ A: 'with-4', B: 'with-1', C: 'with-1' });
  // Undone out of order: each gives back what it took, no more.
  await undo(house, first.id);
  expect(await reads()).toEqual({ A: 'with-4', B: 'with-2', C: 'with-1' });
  await undo(house, back.id);
  expect(await reads()).toEqual({ A: 'with-4', B: 'with-2', C: 'with-1' });

  await go(house, await plan('none'));
  expect(await reads()).toEqual({ A: null, B: null, C: null });
  // Everyone who asks for proxies sees none that is read, and knows they are there.
  const along = await house.plan({ kind: 'take-along', settings: { scope: { of: 'project' }, rows: Object.fromEntries(['source', 'mezzanine', 'proxy', 'finished'].map((kind) => [kind, { isTaken: kind === 'proxy', destination: { shelfId: house.source.id, path: '' }, folderName: 'x' }])) as never, trip: null, layout: 'clip', asHome: false } }); // prettier-ignore
  expect((along.detail as TakeAlongDetail).lackingProxies.clips).toBe(0);
  house.house.catalogue.projects.readIn(house.projectId, { kinds: ['proxy', 'finished', 'source', 'mezzanine'], stop: 1 });
  expect(await states(house)).toEqual({ 'A A.mov': 'not-read', 'B B.mov': 'not-read', 'C C.mov': 'not-read' });
  // What is made after that is the next generation, and read.
  const next = await make('Fourth', ['C']);
  expect([await reads(), await states(house)]).toEqual([
    { A: null, B: null, C: `with-${next.id}` },
    { 'A A.mov': 'not-read', 'B B.mov': 'not-read', 'C C.mov': 'by-proxy' },
  ]);
  await go(house, await plan(`with-${next.id}`));
  expect(await reads()).toEqual({ A: 'with-4', B: 'with-2', C: `with-${next.id}` });
  // A copy of the project knows its generations and what was set back.
  await go(house, await plan('with-1'));
  const { catalogue } = house.house;
  catalogue.projects.add({ ...catalogue.projects.get(house.projectId)!, id: 'copy', name: 'Copy' });
  catalogue.clips.duplicate(house.projectId, 'copy', () => `c${Math.random()}`);
  const kept = (projectId: string) => catalogue.clips.ofProject(projectId).map(({ name, renditions }) => [name, renditions.map(({ kind, cameBy, isSetBack }) => [kind, cameBy, isSetBack])]); // prettier-ignore
  expect(kept('copy')).toEqual(kept(house.projectId));
});
