/**
 * A house of half a million files with a project of a million events, and at half that size beside it, so that growth
 * is seen: how long views, windows and plans take, cold and warm. `--items N` takes another size. Nothing here passes or fails.
 */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import { rate } from '../src/core/time/rate';
import { House } from '../src/server/house';
import { bringIn } from '../src/server/projects/bring-in';
import { clipOfItems } from '../src/server/projects/make-clip';
import { makePlan } from '../src/server/kinds/make-plan';
import { registerShelf } from '../src/server/stock/register-shelf';
import { Study, type Question } from '../src/server/study';
import { configOf, itemAt } from './made-up';

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
function moveItems({ catalogue }: House, projectId: string, most: number): void {
  const linked = catalogue.items.linkedBy(projectId).slice(0, most);
  catalogue.transaction(() => {
    catalogue.items.markGone(linked, 'now', null);
    linked.forEach((item) => catalogue.items.put({ ...item, id: randomUUID(), place: { ...item.place, path: `moved/${item.place.path}` } }));
  });
}

async function measure(folder: string): Promise<void> {
  const config = configOf(folder);
  const house = new House(config);
  const { catalogue } = house;
  const projectId = BRONZE_HOUR;
  const shelves = catalogue.shelves.list();
  const study = Study.open(config);
  const timelineId = catalogue.timelines.entries(projectId)[0]!.id;
  const window = { filter: '', down: false, limit: 100, offset: 0 };
  const usage = (timelineIds: 'all' | string[], list: 'used') => ({ ask: 'usage' as const, projectId, request: { ...window, timelineIds, bins: [], clipIds: [], countDisabled: true, sort: 'name' as const, list } }); // prettier-ignore
  const asks: [string, Question][] = [
    ['the list of projects', { ask: 'projects' }],
    ['a project’s head', { ask: 'project', projectId }],
    ['its overview', { ask: 'overview', projectId }],
    ['its bins', { ask: 'bins', projectId }],
    ['a window of its clips', { ask: 'clips', projectId, query: { ...window, filter: 'c0', sort: 'events', bin: '', state: '', ids: null } }],
    ['its timelines', { ask: 'timelines', projectId }],
    ['one timeline', { ask: 'timeline', projectId, timelineId }],
    ['the usage of one timeline', usage([timelineId], 'used')],
    ['the usage of all events', usage('all', 'used')],
    ['the next window of it', { ...usage('all', 'used'), request: { ...usage('all', 'used').request, offset: 100 } }],
  ];
  for (const [what, question] of asks) await took(`${what}, first`, () => study.answerJson(question));
  for (const [what, question] of asks) await took(`${what}, again`, () => study.answerJson(question));
  catalogue.clips.setAside(projectId, catalogue.clips.ids(projectId).slice(0, 1), true);
  for (const [what, question] of asks) await took(`${what}, after a clip is another`, () => study.answerJson(question));
  catalogue.clips.setAside(projectId, catalogue.clips.ids(projectId).slice(0, 1), false);
  const shelfId = shelves[0]!.id;
  const own = catalogue.items.countsByShelf().get(shelfId)!.items;
  const question = { filter: '', sort: 'path', down: false, only: null, limit: 100, offset: 0 } as const;
  await took('a window of the items', () => catalogue.items.window(shelfId, question));
  await took('a window far down', () => catalogue.items.window(shelfId, { ...question, offset: own - 100 }));
  await took('a window filtered and sorted by size', () => catalogue.items.window(shelfId, { ...question, filter: 'a01 pro', sort: 'size' }));
  await took('the shelves with their counts', () => catalogue.items.countsByShelf());
  console.log(`  memory of the process ${Math.round(process.memoryUsage().rss / 1e6)} MB`);
  const relink = { kind: 'relink' as const, settings: { scope: null, choices: {} } };
  for (const [project, most] of [
    [projectId, 1000],
    [OLD_REELS, Infinity],
  ] as const) {
    // prettier-ignore
    moveItems(house, project, most);
    const plan = await took('a relink plan', () => makePlan(study.catalogue, study.mounts, project, relink));
    await took(`relinking ${plan.steps.length} clips`, async () => house.runner.finished(house.runner.submit(plan)));
  }
  console.log(`  memory of the process ${Math.round(process.memoryUsage().rss / 1e6)} MB`);
  study.catalogue.close();
  await house.close();
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
