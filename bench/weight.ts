/**
 * A house of half a million files with a project of a million events, and at half that size beside it, so that growth
 * is seen: how long views, windows and plans take, cold and warm. `--items N` takes another size. Nothing here passes or fails.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import { rate } from '../src/core/time/rate';
import { Catalogue } from '../src/server/catalogue/catalogue';
import { House } from '../src/server/house';
import { bringIn } from '../src/server/projects/bring-in';
import { clipOfItems } from '../src/server/projects/make-clip';
import { registerShelf } from '../src/server/stock/register-shelf';
import { configOf, itemAt } from './made-up';
import { startServer } from './server';

const PAL = rate(25);
const SHELVES = 20;
const PROJECTS = 20;
const EVENTS_A_TIMELINE = 5_000;

/** The same in every process: which of them the bench made. */
const BRONZE_HOUR = 'bronze-hour';
const OLD_REELS = 'old-reels';

async function took<T>(what: string, work: () => T | Promise<T>): Promise<T> {
  const from = performance.now();
  const done = await work();
  console.log(`  ${what.padEnd(58)} ${(performance.now() - from).toFixed(0).padStart(7)} ms`);
  return done;
}

async function build(folder: string, items: number): Promise<void> {
  const house = new House(configOf(folder));
  const { catalogue } = house;
  console.log(`${items} items on ${SHELVES} shelves`);
  const shelves = Array.from({ length: SHELVES }, (_, index) => {
    mkdirSync(join(folder, `SHELF-${index}`));
    return registerShelf(catalogue, house.mounts, join(folder, `SHELF-${index}`)).id;
  });
  const own = Math.floor(items / SHELVES);
  await took('putting the items', () => {
    for (const shelf of shelves) catalogue.transaction(() => { for (let index = 0; index < own; index++) catalogue.items.put(itemAt(shelf, index)); }); // prettier-ignore
  });
  const cut = (name: string, from: number, clips: number): string => {
    const events = Array.from({ length: EVENTS_A_TIMELINE }, (_, event) => {
      // Each timeline uses some of the clips, here and there several times.
      const index = (from + Math.floor(event / 2) + (event % 2) * 1777) % clips;
      const { place, facts } = itemAt('', index % own);
      const range = timeRange(facts.startFrame!, 1000, PAL);
      return clipDocument(`e${event}`, timeRange(facts.startFrame! + (event % 900), 50, PAL), externalReference(`file://${folder}/SHELF-${Math.floor(index / own)}/${encodeURI(place.path)}`, `c${index}`, range)); // prettier-ignore
    });
    return formatOtio(timelineDocument(name, rationalTime(0, PAL), [trackDocument('V1', 'Video', events)]));
  };
  const project = (id: string, name: string, timelines: number, clips: number) => {
    catalogue.projects.add({ id, name, rate: PAL, dropFrame: false, createdAt: 'now' });
    for (let timeline = 0; timeline < timelines; timeline++) {
      const file = readTimelineFile(cut(`Cut ${timeline}`, timeline * Math.floor(clips / timelines), clips), PAL);
      bringIn(catalogue, house.mounts, id, file, 'cut.otio', null, randomUUID);
    }
  };
  const clips = items / 25;
  const timelines = (items * 2) / EVENTS_A_TIMELINE;
  await took(`bringing in ${timelines} timelines of ${EVENTS_A_TIMELINE} events with ${clips} clips`, () => project(BRONZE_HOUR, 'Bronze Hour', timelines, clips)); // prettier-ignore
  await took(`${PROJECTS - 2} smaller projects`, () => { for (let index = 2; index < PROJECTS; index++) project(randomUUID(), `Bell ${index}`, 1, 1000); }); // prettier-ignore
  // Clips of the last shelves, in bins alone.
  catalogue.projects.add({ id: OLD_REELS, name: 'Old Reels', rate: PAL, dropFrame: false, createdAt: 'now' });
  await took(`a project with ${items / 10} clips in bins`, () =>
    catalogue.transaction(() => {
      for (let at = 0; at < items / 10; at++) {
        const item = catalogue.items.at(itemAt(shelves[SHELVES - 1 - Math.floor(at / own)]!, at % own).place)!;
        catalogue.clips.put(OLD_REELS, clipOfItems([item], 'Reels', randomUUID));
      }
    }),
  );
  await house.close();
}

/** Files of a project move to other folders; the clips that link them are to be found again. */
function moveItems(catalogue: Catalogue, projectId: string, most: number): void {
  const linked = catalogue.items.linkedBy(projectId).slice(0, most);
  catalogue.transaction(() => {
    catalogue.items.markGone(linked, 'now', null);
    linked.forEach((item) => catalogue.items.put({ ...item, id: randomUUID(), place: { ...item.place, path: `moved/${item.place.path}` } }));
  });
}

/** What the process takes of the memory, and what it took at most, in MB (Linux). */
function memoryOf(pid: number): string {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  const [now, most] = ['VmRSS', 'VmHWM'].map((line) => Math.round(Number(new RegExp(`${line}:\\s+(\\d+)`).exec(status)![1]) / 1000));
  return `${now} MB, at most ${most} MB`;
}

/** A server of its own is asked as pages ask it; the catalogue is changed beside it, as another thread would. */
async function measure(folder: string): Promise<void> {
  const { dataFolder } = configOf(folder);
  const { ask, pid, stop } = await startServer(dataFolder, folder);
  const catalogue = Catalogue.open(join(dataFolder, 'catalogue.sqlite'), true);
  try {
    const projectId = BRONZE_HOUR;
    const project = `projects/${projectId}`;
    const timelineId = catalogue.timelines.entries(projectId)[0]!.id;
    const shelf = `shelves/${catalogue.shelves.list()[0]!.id}`;
    const own = catalogue.items.countsByShelf().get(catalogue.shelves.list()[0]!.id)!.items;
    const usage = (timelineIds: 'all' | string[], offset = 0) => ({ timelineIds, bins: [], clipIds: [], countDisabled: true, list: 'used', limit: 100, offset }); // prettier-ignore
    const asks: [what: string, method: string, to: string, body?: unknown][] = [
      ['the list of projects', 'GET', 'projects'],
      ['a project’s head', 'GET', project],
      ['its overview', 'GET', `${project}/overview`],
      ['its bins', 'GET', `${project}/bins`],
      ['a window of its clips', 'GET', `${project}/clips?filter=c0&sort=events&limit=100`],
      ['its timelines', 'GET', `${project}/timelines`],
      ['one timeline', 'GET', `${project}/timelines/${timelineId}`],
      ['the usage of one timeline', 'POST', `${project}/usage`, usage([timelineId])],
      ['the usage of all events', 'POST', `${project}/usage`, usage('all')],
      ['the next window of it', 'POST', `${project}/usage`, usage('all', 100)],
    ];
    const round = async (when: string) => {
      for (const [what, method, to, body] of asks) await took(`${what}, ${when}`, () => ask(method, to, body));
    };
    await round('first');
    await round('again');
    catalogue.clips.setAside(projectId, catalogue.clips.ids(projectId).slice(0, 1), true);
    await round('after a clip is another');
    catalogue.clips.setAside(projectId, catalogue.clips.ids(projectId).slice(0, 1), false);
    await took('a window of the items', () => ask('GET', `${shelf}/items?limit=100`));
    await took('a window far down', () => ask('GET', `${shelf}/items?limit=100&offset=${own - 100}`));
    await took('a window filtered and sorted by size', () => ask('GET', `${shelf}/items?limit=100&filter=a01%20pro&sort=size`));
    await took('the shelves with their counts', () => ask('GET', 'shelves'));
    console.log(`  memory of the server ${memoryOf(pid)}`);
    const pull = { timelineIds: [timelineId], media: 'parts', headFrames: 12, tailFrames: 12, joinGapFrames: 25, countDisabled: false, destination: { shelfId: catalogue.shelves.list()[0]!.id, path: '' }, folderName: 'out' }; // prettier-ignore
    await took('a pull plan of one timeline', () => ask('POST', 'plans', { kind: 'pull', projectId, settings: pull }));
    for (const [relinked, most] of [
      [projectId, 1000],
      [OLD_REELS, Infinity],
    ] as const) {
      moveItems(catalogue, relinked, most);
      // Connections that the server gave up meanwhile are seen to be closed.
      await wait(100);
      const request = { kind: 'relink', projectId: relinked, settings: { scope: null, choices: {} } };
      const { digest, plan } = await took('a relink plan', () => ask<{ digest: string; plan: { title: string } }>('POST', 'plans', request));
      await took(plan.title, async () => {
        const { id } = await ask<{ id: number }>('POST', 'runs', { ...request, digest });
        while ((await ask<{ state: string }>('GET', `runs/${id}`)).state !== 'done') await wait(100);
      });
      console.log(`  memory of the server ${memoryOf(pid)}`);
    }
  } finally {
    catalogue.close();
    await stop();
  }
}

// What is measured begins with an empty memory.
const [, script, work, where, count] = process.argv;
if (work === 'build') await build(where!, Number(count));
else if (work === 'measure') await measure(where!);
else {
  const asked = process.argv.indexOf('--items');
  const most = asked < 0 ? 500_000 : Number(process.argv[asked + 1]);
  for (const items of [most / 2, most]) {
    const folder = mkdtempSync(join(tmpdir(), 'mill-weight-'));
    execFileSync(process.execPath, [script!, 'build', folder, String(items)], { stdio: 'inherit' });
    execFileSync(process.execPath, [script!, 'measure', folder], { stdio: 'inherit' });
    rmSync(folder, { recursive: true, force: true });
  }
}
