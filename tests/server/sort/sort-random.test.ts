/** Random trees, schemes and settings: a sort loses nothing, breaks no link, does nothing twice, and its undo leaves all as it was. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterEach, beforeEach, expect, it } from 'vitest';
import type { SortSettings } from '../../../src/core/planning/sort/settings';
import type { Rule } from '../../../src/core/scheme/rule';
import type { SchemeFolder } from '../../../src/core/scheme/scheme';
import { foldPath } from '../../../src/core/naming/fold-path';
import { registerShelf } from '../../../src/server/stock/register-shelf';
import { makeHouse, type SmallHouse } from '../../helpers/small-house';
import { allLinks, brokenLinks, diskState, put, sortSettings } from '../../helpers/sort-house';
import { cutOf, cutTimeline, go, undo, wavBytes } from '../../helpers/trust-house';

let house: SmallHouse;
beforeEach(() => (house = makeHouse()));
afterEach(() => house.remove());

const NAMES = ['bell.wav', 'Bell.wav', 'BELL.wav', 'bell_2.wav', 'CON.wav', 'po:ur?.wav', 'a b.wav', '-rf.wav', 'é.wav', 'e\u0301.wav', 'n'.repeat(180) + '.wav', 'x.y.z.wav', 'naïve 鐘.wav', '100%.wav', "quote'd.wav"]; // prettier-ignore
const FOLDERS = ['', 'a', 'A', 'a/b', 'Test', 'Test/Sound', 'Test/To sort', 'card/DCIM/100MILLA', 'card/MISC', 'deep/er/still', 'dots.'];
const folderName = fc.constantFrom(
  'Sound',
  'sound',
  '{day}',
  '{reel|loose}',
  '{kind}s',
  'CON',
  '{original}',
  'a/b'.replace('/', '-'),
  'Takes {camera}',
);
const rule: fc.Arbitrary<Rule | null> = fc.oneof(
  fc.constant(null),
  fc.constant({}),
  fc.record({ names: fc.array(fc.constantFrom('bell*', '*.wav', '?o*', '*e*'), { minLength: 1, maxLength: 2 }) }),
  fc.record({ kinds: fc.constant(['audio' as const]), used: fc.boolean() }),
);
let count = 0;
const tree: fc.Arbitrary<SchemeFolder> = fc.letrec<{ folder: SchemeFolder }>((tie) => ({
  folder: fc
    .record({ name: folderName, rule, folders: fc.oneof({ depthSize: 'small' }, fc.constant([]), fc.array(tie('folder'), { maxLength: 2 })) })
    .map((own): SchemeFolder => ({ id: `f${count++}`, ...own })),
})).folder;

const settings = fc.record({
  folders: fc.array(tree, { maxLength: 4 }),
  structure: fc.constantFrom('scheme' as const, 'scheme' as const, 'as-it-was' as const, 'bins' as const),
  names: fc.record({
    from: fc.constantFrom('original' as const, 'clip' as const, 'pattern' as const),
    pattern: fc.constantFrom('{n:3}', '{original}', '{clip}_{n}', '{reel}_{original}', 'one name', '{day} {original}'),
    level: fc.constantFrom('everywhere' as const, 'plain' as const, 'here' as const),
  }),
  clashes: fc.constantFrom('number' as const, 'reel' as const, 'day' as const),
  perFolder: fc.constantFrom(null, null, 1, 3),
  emptyFolders: fc.boolean(),
  removeEmptied: fc.boolean(),
  of: fc.constantFrom('project' as const, 'folder' as const),
  elsewhere: fc.boolean(),
  action: fc.constantFrom('move' as const, 'move' as const, 'copy' as const),
  twice: fc.boolean(),
  makeClips: fc.boolean(),
});

const contents = (state: Record<string, string>) =>
  Object.values(state)
    .filter((text) => !text.startsWith('folder'))
    .sort();

it('sorts and puts back five random houses', { timeout: 300_000 }, async () => {
  let round = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(fc.tuple(fc.constantFrom(...FOLDERS), fc.constantFrom(...NAMES)), {
        minLength: 1,
        maxLength: 14,
        selector: ([home, name]) => (home.startsWith('card') ? foldPath(`${home}/${name}`) : `${home}/${name}`),
      }),
      settings,
      async (places, own) => {
        await house.remove();
        house = makeHouse();
        round++;
        places.forEach(([folder, name], index) =>
          put(house.source.root, [folder, name].filter((part) => part !== '').join('/'), wavBytes(480 + index, [], index), 1_700_000_000 + index),
        );
        if (round % 3 === 0) put(house.source.root, 'a/bell.xml', 'paper');
        await house.stocktake(house.source.id);
        house.bring(cutTimeline('Cut', places.filter((_, index) => index % 4 !== 3).map(([folder, name]) => cutOf([folder, name].filter((part) => part !== '').join('/'), 0, 1)), 'Audio')); // prettier-ignore
        const secondRoot = join(house.folder, 'SECOND');
        mkdirSync(secondRoot);
        const second = { shelfId: registerShelf(house.house.catalogue, house.house.mounts, secondRoot).id, path: '' };
        const before = {
          second: diskState(secondRoot),
          source: diskState(house.source.root),
          vault: diskState(house.vault.root),
          links: allLinks(house),
          broken: brokenLinks(house),
        };
        const request = (): SortSettings =>
          sortSettings(own.elsewhere ? house.vault.id : house.source.id, {
            ...own,
            second: own.twice ? second : null,
            scope: own.of === 'project' ? { of: 'project' } : { of: 'folder', place: { shelfId: house.source.id, path: '' } },
            scheme: { id: 's', name: 'Random', about: '', folders: own.folders, rest: 'To sort' },
          });
        const contentOf = (path: string) => before.source[path]!;
        const plan = await house.plan({ kind: 'sort', settings: request() });
        if (plan.blocked !== null) return;
        // Where it says nothing else every file has a target of its own, however names are folded.
        const targets = plan.steps.flatMap((step) =>
          step.to && step.action !== 'link' ? [`${step.to.shelfId} ${step.to.path.normalize('NFC').toLowerCase()}`] : [],
        );
        expect(new Set(targets).size).toBe(targets.length);

        const { id, rows } = await go(house, plan);
        expect(rows.filter(({ state }) => state !== 'done').map(({ message, step }) => `${message} ${step.from?.path} → ${step.to?.path}`)).toEqual(
          [],
        );
        expect(brokenLinks(house)).toEqual(before.broken);
        const after = [...contents(diskState(house.source.root)), ...contents(diskState(house.vault.root))].sort();
        if (own.action === 'move') expect(after).toEqual([...contents(before.source), ...contents(before.vault)].sort());
        else for (const text of contents(before.source)) expect(after).toContain(text);
        if (own.action === 'copy' && own.twice)
          // Nothing else came there, and all that was copied did.
          expect(contents(diskState(secondRoot)).filter((text) => !contents(before.second).includes(text))).toEqual(
            plan.steps.flatMap((step) => (step.action === 'copy' && step.twin ? [contentOf(step.from!.path)] : [])).sort(),
          );
        if (own.action === 'move') {
          const again = await house.plan({ kind: 'sort', settings: request() });
          expect(again.steps.filter(({ action }) => action === 'move').map((step) => `${step.from!.path} → ${step.to!.path}`)).toEqual([]);
        }

        const back = await undo(house, id);
        expect(back.rows.filter(({ state }) => state !== 'done').map(({ message }) => message)).toEqual([]);
        expect(diskState(house.source.root)).toEqual(before.source);
        expect(diskState(house.vault.root)).toEqual(before.vault);
        expect(diskState(secondRoot)).toEqual(before.second);
        expect(allLinks(house)).toEqual(before.links);
      },
    ),
    { numRuns: 5, ...(process.env.MILL_SEED ? { seed: Number(process.env.MILL_SEED) } : {}), endOnFailure: false },
  );
});
