/** Files that stand elsewhere on their shelf than at the last stocktake: known by what they hold, and never taken for another. */
import { cpSync, mkdirSync, renameSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { makeHouse, makeIntra, type SmallHouse } from '../helpers/small-house';
import { makeFrames, wavBytes } from '../helpers/trust-house';

let small: SmallHouse;
const at = (path: string) => join(small.source.root, path);
beforeEach(() => {
  small = makeHouse();
  mkdirSync(at('Day 1'));
});
afterEach(() => small.remove());

const facts = () => new Map(small.house.catalogue.items.onShelf(small.source.id).map((item) => [item.place.path, item.facts]));
const stocktake = () => small.stocktake(small.source.id);
/** Written in the same moment, as a copier or a card with coarse times has it. */
const ofOneMoment = (path: string) => utimesSync(at(path), 1_700_000_000, 1_700_000_000);

it('a folder that is renamed, or copied with its times, is not read anew: movies, sounds, sequences', async () => {
  await makeIntra(at('Day 1/A001_C001.mov'), 10, '10:00:00:00');
  writeFileSync(at('Day 1/boom.wav'), wavBytes(48_000));
  mkdirSync(at('Day 1/pour'));
  await makeFrames(at('Day 1/pour'), 'pour.', 1001, 5);
  expect(await stocktake()).toMatchObject({ files: 3, readFiles: 3 });
  const before = facts();
  renameSync(at('Day 1'), at('Rushes'));
  expect(await stocktake()).toMatchObject({ files: 3, readFiles: 0, goneFiles: 3, movedFiles: 3 });
  cpSync(at('Rushes'), at('Rushes copy'), { recursive: true, preserveTimestamps: true });
  expect(await stocktake()).toMatchObject({ files: 6, readFiles: 0, goneFiles: 0, copiedFiles: 3 });
  const told = [...before].flatMap(([path, own]) => ['Rushes', 'Rushes copy'].map((folder) => [path.replace('Day 1', folder), own] as const));
  expect(facts()).toEqual(new Map(told));
  // Nothing of it is taken on trust later either.
  expect(await stocktake()).toMatchObject({ files: 6, readFiles: 0, goneFiles: 0 });
});

it('what looks the same and is another is read: by content, by ending, and where content cannot tell', async () => {
  const tape = (name: string) => [['iXML', Buffer.from(`<BWFXML><TAPE>${name}</TAPE></BWFXML>`)]] as const;
  const put = (path: string, bytes: Buffer) => (writeFileSync(at(path), bytes), ofOneMoment(path));
  put('Day 1/a.wav', wavBytes(48_000, tape('R1')));
  // Silence of three million bytes: its samples tell nothing.
  const silent = (name: string) => Buffer.concat([wavBytes(0, tape(name)).subarray(0, -8), Buffer.from('data'), Buffer.from([0, 0, 0x30, 0]), Buffer.alloc(0x30_0000)]); // prettier-ignore
  put('Day 1/silent.wav', silent('R1'));
  await makeIntra(at('Day 1/film.mov'), 5, '10:00:00:00');
  await stocktake();
  // The same size and time each: other sound, another tape in silence, another ending.
  put('b.wav', wavBytes(48_000, tape('R2'), 5));
  put('silent 2.wav', silent('R2'));
  cpSync(at('Day 1/film.mov'), at('film.mp4'), { preserveTimestamps: true });
  expect(await stocktake()).toMatchObject({ readFiles: 3 });
  const reel = (path: string) => facts().get(path)!.reel;
  expect(['Day 1/a.wav', 'b.wav', 'Day 1/silent.wav', 'silent 2.wav'].map(reel)).toEqual(['R1', 'R2', 'R1', 'R2']);
});

it('a file with a problem, or damaged, lends nothing to another', async () => {
  await makeIntra(at('Day 1/whole.mov'), 20, '10:00:00:00');
  writeFileSync(at('Day 1/broken.mov'), Buffer.alloc(100_000, 7));
  ofOneMoment('Day 1/broken.mov');
  await stocktake();
  cpSync(at('Day 1/broken.mov'), at('broken.mov'), { preserveTimestamps: true });
  expect(await stocktake()).toMatchObject({ readFiles: 2, problems: 2 });
  const item = small.house.catalogue.items.at({ shelfId: small.source.id, path: 'broken.mov' })!;
  expect(item.problem).not.toBe(null);
});
