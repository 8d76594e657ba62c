/**
 * A list of 20,000 events, none of them linked, against half a million files: how long the look before it comes in takes
 * with and without its media, how long bringing in and the relink plan of all take; beside it a plain search for the same
 * names in a list of the paths. `--items N` takes another size. Nothing here passes or fails.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import { rate } from '../src/core/time/rate';
import { frameToTimecode } from '../src/core/time/timecode';
import { House } from '../src/server/house';
import { AddressBook } from '../src/server/projects/address-book';
import { bringIn, matchNamed, namedBy } from '../src/server/projects/bring-in';
import { matchSummary } from '../src/server/projects/match-view';
import { makePlan } from '../src/server/kinds/make-plan';
import { registerShelf } from '../src/server/stock/register-shelf';
import { configOf, itemAt } from './made-up';

const PAL = rate(25);
const SHELVES = 20;
const EVENTS = 20_000;
const asked = process.argv.indexOf('--items');
const items = asked < 0 ? 500_000 : Number(process.argv[asked + 1]);
const own = Math.floor(items / SHELVES);

/** Every other file as cameras write it: without timecode or reel, on a card of 100. */
function stockAt(shelfId: string, index: number) {
  const item = itemAt(shelfId, index);
  if (index % 2 === 0) return item;
  const path = `CARD_${Math.floor(index / 200)}/DCIM/100BELLS/${cameraName(shelfId, index)}.MP4`;
  return { ...item, place: { shelfId, path }, facts: { ...item.facts, reel: null, startFrame: null, durationFrames: 500 } };
}
function cameraName(shelfId: string, index: number): string {
  return `BELL${shelfId.slice(0, 4).toUpperCase()}${String(index).padStart(6, '0')}`;
}

function took<T>(what: string, work: () => T): { done: T; ms: number } {
  const from = performance.now();
  const done = work();
  const ms = performance.now() - from;
  console.log(`  ${what.padEnd(58)} ${ms.toFixed(0).padStart(7)} ms`);
  return { done, ms };
}

const folder = mkdtempSync(join(tmpdir(), 'mill-match-'));
const house = new House(configOf(folder));
const { catalogue, mounts } = house;
console.log(`${EVENTS} events against ${items} items on ${SHELVES} shelves`);
const shelves = Array.from({ length: SHELVES }, (_, index) => {
  mkdirSync(join(folder, `SHELF-${index}`));
  return registerShelf(catalogue, mounts, join(folder, `SHELF-${index}`)).id;
});
took('putting the items', () => {
  for (const shelf of shelves) catalogue.transaction(() => { for (let index = 0; index < own; index++) catalogue.items.put(stockAt(shelf, index)); }); // prettier-ignore
});

/** As other systems write them: names in several forms, reels, reels cut short, and some that are nowhere. */
const names: string[] = [];
const lines = Array.from({ length: EVENTS }, (_, event) => {
  const shelf = shelves[event % SHELVES]!;
  const index = ((event * 7) % own) | 1;
  const camera = cameraName(shelf, index);
  const name = [camera, `${camera}.MP4`, camera.toLowerCase(), `${camera}.new.01`, `NOWHERE${event}.MP4`][event % 5]!;
  names.push(name);
  const record = (at: number) => frameToTimecode(90_000 + at * 25, PAL, false);
  return `${String(event + 1).padStart(6, '0')}  ${event % 3 === 0 ? `CARD_${Math.floor(index / 200)}` : 'AX'}  V  C  00:00:01:00 00:00:02:00 ${record(event)} ${record(event + 1)}\n* FROM CLIP NAME: ${name}`;
});
const text = `TITLE: LONG\n${lines.join('\n')}\n`;

const read = took('the look without media: reading the list', () => readTimelineFile(text, PAL));
const named = took('… and all that is told of each source', () => namedBy(read.done));
const matched = took('… its media', () => matchNamed(catalogue, mounts, new AddressBook(catalogue, mounts, null), named.done, { scope: null }));
const { done: summary } = took('… in words', () => matchSummary(matched.done, PAL));
console.log(`  ${summary.matched} matched, ${summary.ambiguous} ambiguous, ${summary.doubtful} to compare, ${summary.notFound} with no match`);

const paths = join(folder, 'paths.txt');
const wanted = join(folder, 'names.txt');
writeFileSync(paths, shelves.flatMap((shelf) => Array.from({ length: own }, (_, index) => stockAt(shelf, index).place.path)).join('\n'));
writeFileSync(wanted, names.join('\n'));
const grep = took('plain: grep for the same names in a list of the paths', () =>
  execFileSync('grep', ['-c', '-i', '-F', '-f', wanted, paths], { encoding: 'utf8' }),
);
console.log(`  ${(matched.ms / grep.ms).toFixed(1)} × grep, ${(matched.ms / (read.ms + named.ms)).toFixed(1)} × reading the list`);

const projectId = randomUUID();
catalogue.projects.add({ id: projectId, name: 'Bronze Hour', rate: PAL, dropFrame: false, createdAt: 'now' });
took('bringing it in without its media', () => bringIn(catalogue, mounts, projectId, read.done, 'long.edl', null, randomUUID));
const from = performance.now();
const plan = await makePlan(catalogue, mounts, projectId, { kind: 'relink', settings: { scope: null, choices: {} } });
console.log(
  `  ${'candidates of all: the relink plan'.padEnd(58)} ${(performance.now() - from).toFixed(0).padStart(7)} ms · ${plan.headline.value} of ${plan.headline.of}`,
);
const second = randomUUID();
catalogue.projects.add({ id: second, name: 'Tower', rate: PAL, dropFrame: false, createdAt: 'now' });
took('bringing it in with its media', () => bringIn(catalogue, mounts, second, read.done, 'long.edl', null, randomUUID, { scope: null }));
await house.close();
rmSync(folder, { recursive: true, force: true });
