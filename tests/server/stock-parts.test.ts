/** Parts of the stock: duplicates, what no project reads, what is broken; and who reads a file. */
import { renameSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Among } from '../../src/server/catalogue/item-window';
import { itemView } from '../../src/server/usecases/items';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { put } from '../helpers/sort-house';
import { cutOf, cutTimeline, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;

beforeAll(async () => {
  small = makeHouse();
  const { source, vault } = small;
  put(source.root, 'used.wav', wavBytes(4800, [], 1));
  put(source.root, 'spare.wav', wavBytes(4800, [], 2));
  put(source.root, 'Gone/lost.wav', wavBytes(4800, [], 6));
  put(source.root, 'Other/BELL.WAV', wavBytes(4800, [], 7));
  put(source.root, 'twin a.wav', wavBytes(4800, [], 3));
  put(source.root, 'twin b.wav', wavBytes(4800, [], 3));
  // Equal to what is used, on another shelf and under another name.
  put(vault.root, 'backup of used.wav', wavBytes(4800, [], 1));
  put(vault.root, 'notes.txt', 'no media');
  put(vault.root, 'cut off.wav', wavBytes(4800, [], 4).subarray(0, 4000));
  put(vault.root, 'empty.wav', '');
  put(vault.root, 'empty too.wav', '');
  await small.stocktake(source.id);
  await small.stocktake(vault.id);
  small.bring(cutTimeline('Cut', [cutOf('used.wav', 0, 2), cutOf('Gone/lost.wav', 0, 2), cutOf('nowhere/bell.wav', 0, 2)], 'Audio'));
  // What a clip misses under another name now, and what may be the file of a clip that was never found.
  renameSync(join(source.root, 'Gone'), join(source.root, 'Found'));
  renameSync(join(source.root, 'Found/lost.wav'), join(source.root, 'Found/renamed.wav'));
  await small.stocktake(source.id);
});
afterAll(() => small.remove());

const names = (shelfId: string, among: Among) => small.house.catalogue.items.window(shelfId, { filter: '', sort: 'path', down: false, only: null, among, limit: 100, offset: 0 }).rows.map(({ place }) => place.path); // prettier-ignore

it('duplicates are equal in every byte, on whatever shelf of the list; empty files are none', () => {
  const { source, vault, house } = small;
  expect([names(source.id, 'duplicates'), names(vault.id, 'duplicates')]).toEqual([['twin a.wav', 'twin b.wav', 'used.wav'], ['backup of used.wav']]);
  house.catalogue.shelves.retire(vault.id, new Date().toISOString());
  expect(names(source.id, 'duplicates')).toEqual(['twin a.wav', 'twin b.wav']);
  house.catalogue.shelves.put(vault.id, 'VAULT', new Date().toISOString());
});

it('what a project reads, or misses, under whatever name is not spare, and what is no media is not counted', () => {
  expect([names(small.source.id, 'spare'), names(small.vault.id, 'spare')]).toEqual([['spare.wav', 'twin a.wav', 'twin b.wav'], ['cut off.wav']]);
});

it('counts are those of the lists, with their bytes', () => {
  const { items } = small.house.catalogue;
  for (const shelfId of [small.source.id, small.vault.id])
    for (const among of ['duplicates', 'spare', 'broken'] as const) {
      const { rows } = items.window(shelfId, { filter: '', sort: 'path', down: false, only: null, among, limit: 100, offset: 0 });
      expect(items.countAmong(shelfId)[among]).toEqual({ files: rows.length, bytes: rows.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0) });
    }
  expect(names(small.vault.id, 'broken')).toEqual(['cut off.wav', 'empty too.wav', 'empty.wav']);
});

it('a file says where its equals are and which clips read one of them', () => {
  const { items } = small.house.catalogue;
  const backup = itemView(small.house, items.at({ shelfId: small.vault.id, path: 'backup of used.wav' })!.id);
  expect(backup.copies).toEqual([{ shelfId: small.source.id, path: 'used.wav' }]);
  expect(backup.readers).toEqual([{ project: 'Test', projectId: small.projectId, clip: 'used.wav' }]);
  const spare = itemView(small.house, items.at({ shelfId: small.source.id, path: 'spare.wav' })!.id);
  expect([spare.copies, spare.readers]).toEqual([[], []]);
});
