/** What a machine shows before anything is on the list: real folders, and a table of mounts as Linux writes it. */
import { mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { STANDARD_CARDS } from '../../src/core/media/card';
import { seenPlaces } from '../../src/server/stock/seen-places';
import type { Mounted } from '../../src/server/stock/mount-table';

let folder = '';
beforeEach(() => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'mill-seen-')));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const put = (path: string, bytes = 5) => {
  mkdirSync(join(folder, path, '..'), { recursive: true });
  writeFileSync(join(folder, path), Buffer.alloc(bytes));
};
const mounted = (at: string): Mounted => ({ device: '8:1', root: '/', at: join(folder, at), type: 'exfat', source: '/dev/sdb1' });
const seen = (more: Partial<Parameters<typeof seenPlaces>[0]> = {}) =>
  seenPlaces({ roots: [folder], taken: [], cards: STANDARD_CARDS, isSilent: () => false, mountTable: [], ...more }).map(
    ({ name, kind, isDrive, mediaFiles, mediaBytes, crates }) => [name, kind, isDrive, mediaFiles, mediaBytes, crates],
  );

it('folders with media, cards and crates; not what holds none, is hidden, leads elsewhere, or is on the list', () => {
  put('Rushes/Day 1/A001.mov', 10);
  put('Rushes/Day 1/._A001.mov');
  put('Rushes/notes.txt');
  put('CARD/DCIM/100BRONZ/BRNZ0001.MOV');
  put('Packed/bagit.txt');
  put('Letters/a.pdf');
  put('.Trash/A001.mov');
  put('Taken/A001.mov');
  put('Around/inner/A001.mov');
  symlinkSync(join(folder, 'Rushes'), join(folder, 'Link'));
  expect(seen({ taken: [join(folder, 'Taken'), join(folder, 'Around/inner')] })).toEqual([
    ['CARD', 'card', false, 1, 5, 0],
    ['Packed', 'working', false, 0, 0, 1],
    ['Rushes', 'working', false, 1, 10, 0],
  ]);
});

it('drives come first, those two folders deep too, also empty ones; a silent one is not touched', () => {
  put('Rushes/A001.mov');
  for (const name of ['editor/ARCHIVE', 'editor/BLANK', 'editor/DEAD']) mkdirSync(join(folder, name), { recursive: true });
  put('editor/ARCHIVE/old.mxf');
  const mountTable = ['editor/ARCHIVE', 'editor/BLANK', 'editor/DEAD'].map(mounted);
  const touched: string[] = [];
  const isSilent = (path: string) => (touched.push(path), path.endsWith('DEAD'));
  expect(seen({ mountTable, isSilent })).toEqual([
    ['ARCHIVE', 'working', true, 1, 5, 0],
    ['BLANK', 'working', true, 0, 0, 0],
    ['Rushes', 'working', false, 1, 5, 0],
  ]);
  expect(touched).toContain(join(folder, 'editor/DEAD'));
});

it('a root that holds media itself is one place; what is not there is none', () => {
  put('A001.mov');
  put('Day 2/A002.mov');
  expect(seen().map(([, , , files]) => files)).toEqual([2]);
  expect(seen({ roots: [join(folder, 'nowhere')] })).toEqual([]);
});
