/**
 * Half a million files of which half are copies of the other half, and a project of 50,000 clips: how long it takes to know
 * the state of every clip after a drive was ejected and plugged in, and how long views take; beside it a plain query that
 * reads as many rows. `--items N` takes another size. Nothing here passes or fails.
 */
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { rate } from '../src/core/time/rate';
import type { ProjectView } from '../src/server/projects/views/project';
import { House } from '../src/server/house';
import { clipOfItems } from '../src/server/projects/make-clip';
import { readersOf } from '../src/server/projects/readers';
import { registerShelf } from '../src/server/stock/register-shelf';
import { Study } from '../src/server/questions/study';
import type { Question } from '../src/server/questions/questions';
import { configOf, itemAt } from './made-up';

const SHELVES = 10;
const asked = process.argv.indexOf('--items');
const items = asked < 0 ? 500_000 : Number(process.argv[asked + 1]);
const own = Math.floor(items / SHELVES);
const clips = Math.floor(items / 10);

const folder = mkdtempSync(join(tmpdir(), 'mill-copies-'));
const house = new House(configOf(folder));
const { catalogue } = house;
const projectId = randomUUID();
catalogue.projects.add({ id: projectId, name: 'Bronze Hour', rate: rate(25), dropFrame: false, createdAt: new Date().toISOString() });
const shelves = Array.from({ length: SHELVES }, (_, index) => {
  mkdirSync(join(folder, `SHELF-${index}`));
  return registerShelf(catalogue, house.mounts, join(folder, `SHELF-${index}`)).id;
});

async function took<T>(what: string, work: () => T | Promise<T>): Promise<{ done: T; ms: number }> {
  const from = performance.now();
  const done = await work();
  const ms = performance.now() - from;
  console.log(`  ${what.padEnd(62)} ${ms.toFixed(0).padStart(7)} ms`);
  return { done, ms };
}

/** The second half of the shelves holds copies of the first, read whole on both sides. */
const sumOf = (shelf: number, index: number) => `${shelf % (SHELVES / 2)} ${index}`.padEnd(64, '0');
console.log(`${items} files, half of them copies of the other half, ${clips} clips`);
await took('putting the files, with their checksums', () => {
  for (const [shelf, id] of shelves.entries())
    catalogue.transaction(() => {
      for (let index = 0; index < own; index++) {
        const item = { ...itemAt(id, index), fingerprint: `2:${sumOf(shelf, index)}:14/14` };
        catalogue.items.put(item);
        catalogue.items.recordChecksum(item.place, item.identity!, sumOf(shelf, index), '2026-01-01');
      }
    });
});
await took('putting the clips', () =>
  catalogue.transaction(() => {
    for (let index = 0; index < clips; index++) {
      const shelfId = shelves[index % (SHELVES / 2)]!;
      catalogue.clips.put(projectId, clipOfItems([catalogue.items.at(itemAt(shelfId, index).place)!], `Bin ${index % 200}`, randomUUID));
    }
  }),
);

const study = new Study(catalogue, house.mounts);
const look = async (what: string, question: Question) => took(what, () => study.answer(question));
const head: Question = { ask: 'project', projectId };
const list: Question = { ask: 'clips', projectId, query: { filter: '', sort: 'name', down: false, limit: 60, offset: 20_000, bin: '', state: '', ids: null } }; // prettier-ignore
const states = (answer: { done: unknown }) => JSON.stringify((answer.done as ProjectView).states);

console.log(`  ${states(await look('state of all clips, first', head))}`);
await look('a window of the clips', list);
const root = join(folder, 'SHELF-0');
renameSync(join(root, '.mill-shelf.json'), join(root, 'away.json'));
house.mounts.reload();
const ejected = await look('state of all clips after a drive was ejected (limit 2,000)', head);
console.log(`  ${states(ejected)}`);
await look('a window of the clips, its copies read', list);
renameSync(join(root, 'away.json'), join(root, '.mill-shelf.json'));
house.mounts.reload();
const plugged = await look('after it was plugged in', head);
console.log(`  ${states(plugged)}`);
await look('a window of the clips (limit 100)', list);
await look('bins (limit 100)', { ask: 'bins', projectId });
await look('overview', { ask: 'overview', projectId });

// Who reads files that would go: what a removal of them all asks at once, and each of its steps for one.
const going = Array.from({ length: clips / (SHELVES / 2) }, (_, index) => itemAt(shelves[0]!, index * (SHELVES / 2)).place);
const readers = await took(`who reads ${going.length} files that would go, and whose last they are`, () => readersOf(catalogue, house.mounts, going));
console.log(`  ${readers.done.length} readers, ${readers.done.filter(({ losesLast }) => losesLast).length} of them lose their last file`);
await took('the same of one file', () => readersOf(catalogue, house.mounts, going.slice(0, 1)));

const db = new Database(join(folder, 'data/catalogue.sqlite'), { readonly: true });
const plain = await took(
  'a plain query that reads the clips, their links and files',
  () =>
  db.prepare('SELECT c.name, l.path, i.fingerprint FROM clips c JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id JOIN items i ON i.shelf_id = l.shelf_id AND i.path = l.path').all(), // prettier-ignore
);
console.log(`  after the eject ${(ejected.ms / plain.ms).toFixed(1)} × that query`);
db.close();
await house.close();
rmSync(folder, { recursive: true });
