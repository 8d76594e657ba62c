/**
 * A house of half a million files with a project of a million events, and at half that size beside it, so that growth
 * is seen: how long views, windows and plans take, cold and warm. `--items N` takes another size. Nothing here passes or fails.
 */
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import type { Item } from '../src/core/media/item';
import { rate } from '../src/core/time/rate';
import { House } from '../src/server/house';
import { bringIn } from '../src/server/projects/bring-in';
import { makePlan } from '../src/server/projects/make-plan';
import { registerShelf } from '../src/server/stock/register-shelf';
import { Study, type Question } from '../src/server/study';

const PAL = rate(25);
const SHELVES = 20;
const PROJECTS = 20;
const EVENTS_A_TIMELINE = 5_000;
const asked = process.argv.indexOf('--items');
const most = asked < 0 ? 500_000 : Number(process.argv[asked + 1]);

function itemAt(shelfId: string, index: number): Item {
  const path = `Day ${index % 40}/A${String(Math.floor(index / 500) % 200).padStart(3, '0')}_C${String(index).padStart(6, '0')}.mov`;
  return {
    id: randomUUID(),
    place: { shelfId, path },
    sizeBytes: 1_000_000 + index,
    modifiedMs: index,
    identity: { sizeBytes: 1_000_000 + index, modifiedNs: String(index), changedNs: '1', inode: String(index), bornNs: '1' },
    fingerprint: `2:${randomUUID()}:14/14`,
    facts: {
      kind: 'video', container: 'mov', rate: PAL, durationFrames: 1000, startFrame: 90_000 + (index % 500) * 1000, startTimecode: null, dropFrame: false, reel: `A${Math.floor(index / 500) % 200}`,
      video: { codec: 'prores', profile: null, width: 1920, height: 1080, pixelFormat: 'yuv422p10le', bitDepth: 10, alpha: false, colorTransfer: null, colorPrimaries: null },
      audio: [], sequence: null,
    },
    problem: null,
  }; // prettier-ignore
}

async function measure(items: number): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'mill-weight-'));
  const config = { dataFolder: join(folder, 'data'), roots: [folder], host: '127.0.0.1', names: [], port: 0, checkOnly: false, bayFolder: null };
  const house = new House(config);
  const { catalogue } = house;
  const took = async <T>(what: string, work: () => T | Promise<T>): Promise<T> => {
    const from = performance.now();
    const done = await work();
    console.log(`  ${what.padEnd(52)} ${(performance.now() - from).toFixed(0).padStart(7)} ms`);
    return done;
  };
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
  const project = (name: string, timelines: number, clips: number): string => {
    const id = randomUUID();
    catalogue.projects.add({ id, name, rate: PAL, dropFrame: false, createdAt: 'now' });
    for (let timeline = 0; timeline < timelines; timeline++) {
      const file = readTimelineFile(cut(`Cut ${timeline}`, timeline * Math.floor(clips / timelines), clips), PAL);
      bringIn(catalogue, house.mounts, id, file, 'cut.otio', null, randomUUID);
    }
    return id;
  };
  const clips = items / 25;
  const timelines = (items * 2) / EVENTS_A_TIMELINE;
  const projectId = await took(`bringing in ${timelines} timelines of ${EVENTS_A_TIMELINE} events with ${clips} clips`, () => project('Bronze Hour', timelines, clips)); // prettier-ignore
  await took(`${PROJECTS - 1} smaller projects`, () => { for (let index = 1; index < PROJECTS; index++) project(`Bell ${index}`, 1, 1000); }); // prettier-ignore
  const study = Study.open(config);
  const timelineId = catalogue.timelines.entries(projectId)[0]!.id;
  const window = { filter: '', down: false, limit: 100, offset: 0 };
  const usage = (timelineIds: 'all' | string[], list: 'used') => ({ ask: 'usage' as const, projectId, request: { ...window, timelineIds, bins: [], clipIds: [], countDisabled: true, sort: 'name' as const, list } }); // prettier-ignore
  const asks: [string, Question][] = [
    ['the list of projects', { ask: 'projects' }],
    ['a project’s head', { ask: 'project', projectId }],
    ['its overview', { ask: 'overview', projectId }],
    ['a window of its clips', { ask: 'clips', projectId, query: { ...window, filter: 'c0', sort: 'events', bin: '', state: '', ids: null } }],
    ['its timelines', { ask: 'timelines', projectId }],
    ['one timeline', { ask: 'timeline', projectId, timelineId }],
    ['the usage of one timeline', usage([timelineId], 'used')],
    [`the usage of all ${timelines * EVENTS_A_TIMELINE} events`, usage('all', 'used')],
  ];
  for (const [what, question] of asks) await took(`${what}, first`, () => study.answerJson(question));
  for (const [what, question] of asks) await took(`${what}, again`, () => study.answerJson(question));
  const question = { filter: '', sort: 'path', down: false, only: null, limit: 100, offset: 0 } as const;
  await took('a window of the items', () => catalogue.items.window(shelves[0]!, question));
  await took('a window far down', () => catalogue.items.window(shelves[0]!, { ...question, offset: own - 100 }));
  await took('a window filtered and sorted by size', () => catalogue.items.window(shelves[0]!, { ...question, filter: 'a01 pro', sort: 'size' }));
  await took('the shelves with their counts', () => catalogue.items.countsByShelf());
  // A thousand files move to another folder; the clips that link them are to be found again.
  const linked = catalogue.items.linkedBy(projectId).slice(0, 1000);
  catalogue.items.markGone(linked, 'now', null);
  catalogue.transaction(() => linked.forEach((item) => catalogue.items.put({ ...item, id: randomUUID(), place: { ...item.place, path: `moved/${item.place.path}` } }))); // prettier-ignore
  const relink = { kind: 'relink' as const, settings: { scope: null, choices: {} } };
  const plan = await took('a relink plan for 1,000 clips', () => makePlan(study.catalogue, study.mounts, projectId, relink));
  await took(`relinking ${plan.steps.length} clips`, async () => house.runner.finished(house.runner.submit(plan)));
  console.log(`  memory of the process ${Math.round(process.memoryUsage().rss / 1e6)} MB`);
  study.catalogue.close();
  await house.close();
  rmSync(folder, { recursive: true, force: true });
}

await measure(most / 2);
await measure(most);
