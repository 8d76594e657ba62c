/** What is told, and begun, by itself: only where it is switched on, and by settings that hold. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { rate } from '../../src/core/time/rate';
import { AFTER_STOCKTAKE, makeWishedProxies } from '../../src/server/automations/after-stocktake';
import { tidyAdvice } from '../../src/server/projects/tidy-advice';
import { THIS_MACHINE } from '../../src/server/runs/actor';
import { setAutomation } from '../../src/server/usecases/automations';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => (small = makeHouse()));
afterEach(() => small.remove());

const put = (path: string, from = 0) => {
  const at = join(small.source.root, path);
  mkdirSync(join(at, '..'), { recursive: true });
  writeFileSync(at, wavBytes(100, [], from));
};
const here = (path: string) => ({ shelfId: small.source.id, path });
const advice = (standing: readonly { path: string; bytes: number }[] = []) =>
  tidyAdvice(
    small.house.catalogue,
    small.house.catalogue.projects.get(small.projectId)!,
    standing.map(({ path, bytes }) => ({ place: here(path), bytes })),
  ).map(({ title, why, query }) => [title, why, query]);

describe('advice to tidy', () => {
  it('gathers what lies outside of the own folder, where some of it lies inside', () => {
    const files = [
      { path: 'Bronze Hour/Camera/a.mov', bytes: 1000 },
      // A folder that begins alike is another.
      { path: 'Bronze Hour 2/b.mov', bytes: 2_000_000 },
      { path: 'c.mov', bytes: 500_000 },
    ];
    expect(advice(files)).toEqual([]);
    small.house.catalogue.projects.sortInto(small.projectId, here('Bronze Hour'));
    expect(advice(files)).toEqual([['Gather 2 files into Bronze Hour', '2.50 MB that the project uses lie outside its own folder.', 'of=project']]);
    // Nothing of it inside: it was never sorted, or was put back. All inside: nothing to do.
    expect(advice(files.slice(1))).toEqual([]);
    expect(advice(files.slice(0, 1))).toEqual([]);
  });

  it('tells what is new in watched folders: media that the project does not link, outside of its own folder', async () => {
    ['IN/new 1.wav', 'IN/deep/new 2.wav', 'IN/Bronze Hour/own.wav', 'INNER/not.wav'].forEach((path, index) => put(path, index * 7));
    writeFileSync(join(small.source.root, 'IN/notes.txt'), 'no media');
    await small.stocktake(small.source.id);
    const watch = (isOn: boolean, paths: readonly string[]) =>
      setAutomation(small.house, THIS_MACHINE, { projectId: small.projectId, name: 'watched-folders', isOn, settings: { folders: paths.map(here) } });
    expect(advice()).toEqual([]);
    watch(true, ['IN']);
    expect(advice().map(([title]) => title)).toEqual(['Sort 3 new files in IN']);
    small.house.catalogue.projects.sortInto(small.projectId, here('IN/Bronze Hour'));
    expect(advice().map(([title]) => title)).toEqual(['Sort 2 new files in IN']);
    expect(new URLSearchParams(advice()[0]![2]).get('of')).toBe(`${small.source.id}/IN`);
    watch(true, ['']);
    expect(advice().map(([title]) => title)).toEqual(['Sort 3 new files in FOUNDRY-A']);
    watch(false, ['IN']);
    expect(advice()).toEqual([]);
  });
});

describe('an automation', () => {
  it('is one that there is, with settings of its form', () => {
    const set = (name: string, settings: object) => () =>
      setAutomation(small.house, THIS_MACHINE, { projectId: small.projectId, name, isOn: true, settings });
    expect(set('constructor', {})).toThrow(/no .*automation|not.*automation/i);
    expect(set('watched-folders', { folders: 'IN' })).toThrow(/folders/);
    expect(small.house.catalogue.automations.ofProject(small.projectId)).toEqual([]);
  });

  it('begins a plan once, none that is blocked, and whatever one project meets the next has its turn', async () => {
    const { catalogue } = small.house;
    const projects = ['blocked', 'broken', 'fails', 'makes'].map((name) => `${name} ${small.projectId}`);
    for (const id of projects) {
      catalogue.projects.add({ id, name: id, rate: rate(25), dropFrame: false, createdAt: '2026-12-01T00:00:00Z' });
      const settings = id.startsWith('broken') ? { presetId: 'no such' } : { presetId: 'pocket' };
      catalogue.automations.put(id, { name: AFTER_STOCKTAKE, isOn: true, settings }, 'somebody');
    }
    catalogue.automations.put(small.projectId, { name: AFTER_STOCKTAKE, isOn: false, settings: {} }, 'somebody');
    const asked: string[] = [];
    const begun: number[] = [];
    let digest = 'first';
    const house = {
      catalogue,
      runner: { begin: (id: number) => begun.push(id) > 0 },
      ask: (question: { ask: string; projectId?: string; actor?: string }) => {
        const who = question.projectId!.split(' ')[0]!;
        asked.push(`${question.ask} ${who}`);
        if (question.ask === 'enter-run') {
          expect(question.actor).toBe(`automation: ${AFTER_STOCKTAKE}`);
          return Promise.resolve({ id: begun.length + 7 });
        }
        if (who === 'fails') return Promise.reject(new Error('it cannot be planned'));
        return Promise.resolve({ digest, plan: { blocked: who === 'blocked' ? 'Nothing lacks.' : null } });
      },
    } as unknown as Parameters<typeof makeWishedProxies>[0];
    await makeWishedProxies(house);
    expect(asked).toEqual(['plan blocked', 'plan fails', 'plan makes', 'enter-run makes']);
    await makeWishedProxies(house);
    expect(begun).toEqual([7]);
    digest = 'second';
    await makeWishedProxies(house);
    expect(begun).toEqual([7, 8]);
  });
});
