/** Destinations at which something else stands, which only the disk tells: said before a run begins, and nothing is written. */
import { mkdirSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { cutOf, cutTimeline, pullSettings, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(async () => {
  small = makeHouse();
  writeFileSync(join(small.source.root, 's.wav'), wavBytes(4800));
  writeFileSync(join(small.vault.root, 'File'), 'x');
  symlinkSync('/nowhere/at/all', join(small.vault.root, 'Broken'));
  symlinkSync('Circle', join(small.vault.root, 'Circle'));
  mkdirSync(join(small.folder, 'out'));
  symlinkSync(join(small.folder, 'out'), join(small.vault.root, 'Out'));
  mkdirSync(join(small.vault.root, 'Folder'));
  symlinkSync('Folder', join(small.vault.root, 'Linked'));
  await small.stocktake(small.source.id);
});
afterEach(() => small.remove());

const NOT: Readonly<Record<string, string>> = {
  File: '"File" is a file, not a folder.',
  Broken: '"Broken" is a link that leads nowhere.',
  Circle: '"Circle" is a link that leads nowhere.',
  Out: '"Out" leads out of its shelf by a link.',
};

it.each(['pull', 'crate'] as const)('a %s goes into a folder, and into nothing else that has its name', async (kind) => {
  const cut = small.bring(cutTimeline('Cut', [cutOf('s.wav', 0, 1)], 'Audio'));
  const { folderName: _none, ...shared } = pullSettings(small, cut, { media: 'whole' });
  const into = (name: string, path = '') => {
    const settings = { ...shared, destination: { shelfId: small.vault.id, path } };
    return small
      .plan(kind === 'pull' ? { kind, settings: { ...settings, folderName: name } } : { kind, settings: { ...settings, crateName: name, note: '' } })
      .then(({ blocked }) => blocked, (error: Error) => error.message); // prettier-ignore
  };
  for (const [name, words] of Object.entries(NOT)) {
    expect([name, await into(name)]).toEqual([name, words]);
    expect([name, await into('new', name)]).toEqual([name, words]);
  }
  expect(await into('new', 'Linked')).toBe(null);
  expect(readdirSync(join(small.folder, 'out'))).toEqual([]);
});
