/** Relink asks the catalogue which clips may be away instead of judging each: none that is away may be missed. */
import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { RelinkDetail } from '../../src/core/planning/relink/relink';
import { sourceState } from '../../src/core/project/clip';
import { lookAt } from '../../src/server/projects/snapshot';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, cutOf, cutTimeline, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const NAMES = ['one.wav', 'two.wav', 'three.wav', 'four.wav', 'five.wav'];

/** What each clip's own state says, held against what the relink looks at. */
async function mustBeTheSame(when: string, states: Record<string, string>): Promise<void> {
  const { catalogue, mounts } = small.house;
  const judged = (await lookAt(catalogue, mounts, small.projectId, (_, lines) => {
    const known = lines();
    return known.clips.map((clip): [string, string, string] => [clip.id, clip.name, sourceState(clip, known)]);
  }))!;
  expect(Object.fromEntries(judged.map(([, name, state]) => [name, state])), when).toMatchObject(states);
  const away = judged.filter(([, , state]) => state !== 'present').map(([id]) => id);
  const { detail } = await small.plan({ kind: 'relink', settings: { scope: null, choices: {} } });
  const looked = (detail as RelinkDetail).groups.flatMap(({ rows }) => rows.map(({ clipId }) => clipId));
  expect(looked.sort(), when).toEqual(away.sort());
  const attached = catalogue.shelves.list().flatMap(({ id }) => (mounts.rootOf(id) === null ? [] : [id]));
  expect(catalogue.clips.mayBeAway(small.projectId, attached), when).toEqual(expect.arrayContaining(away));
}

it('gone, changed, set aside, away with its drive, known by its name alone, not known at all', async () => {
  await bringSounds(small, ...NAMES);
  const { catalogue } = small.house;
  const { root, id } = small.source;
  await mustBeTheSame('at first', Object.fromEntries(NAMES.map((name) => [name, 'present'])));
  rmSync(join(root, 'one.wav'));
  writeFileSync(join(root, 'two.wav'), wavBytes(9_000, [], 77));
  rmSync(join(root, 'three.wav'));
  await small.stocktake(id);
  const clips = catalogue.clips.ofProject(small.projectId);
  catalogue.clips.setAside(small.projectId, [clips.find(({ name }) => name === 'three.wav')!.id], true);
  // Of one only the name is remembered: what stands under it is taken for it.
  const known = clips.find(({ name }) => name === 'four.wav')!.renditions[0]!;
  const link = known.links[0]!;
  catalogue.clips.relink(known.id, 0, { ...link, expected: { ...link.expected, sizeBytes: null, fingerprint: null } });
  small.bring(cutTimeline('More', [cutOf('/elsewhere/never seen.wav', 0, 5)]));
  await mustBeTheSame('changes', {
    'one.wav': 'missing',
    'two.wav': 'changed',
    'three.wav': 'set-aside',
    'four.wav': 'present',
    'five.wav': 'present',
  });
  renameSync(join(root, '.mill-shelf.json'), join(root, 'was.json'));
  await mustBeTheSame('away', { 'two.wav': 'unplugged', 'four.wav': 'unplugged', 'five.wav': 'unplugged' });
  renameSync(join(root, 'was.json'), join(root, '.mill-shelf.json'));
  catalogue.shelves.retire(id, new Date().toISOString());
  await mustBeTheSame('off the list', { 'four.wav': 'unplugged' });
});
