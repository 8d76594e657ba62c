/**
 * A project of sixty timelines, five hundred bins and three hundred runs in the browser: how long each page takes to stand
 * with its answers, and what two hundred page changes leave behind in the browser and the server. Nothing here passes or fails.
 */
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium } from '@playwright/test';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { readTimelineFile } from '../src/core/interchange/read-timeline-file';
import { rate } from '../src/core/time/rate';
import { House } from '../src/server/house';
import { bringIn } from '../src/server/projects/bring-in';
import { registerShelf } from '../src/server/stock/register-shelf';
import { configOf, itemAt } from './made-up';

const TIMELINES = 60;
const BINS = 500;
const RUNS = 300;
const CHANGES = 200;
const ITEMS = 2000;
const PAL = rate(25);
const folder = mkdtempSync(join(tmpdir(), 'mill-pages-'));
mkdirSync(join(folder, 'VAULT'));

const house = new House(configOf(folder));
const { id: shelfId } = registerShelf(house.catalogue, house.mounts, join(folder, 'VAULT'));
const projectId = randomUUID();
house.catalogue.projects.add({ id: projectId, name: 'Pages', rate: PAL, dropFrame: false, createdAt: new Date().toISOString() });
const items = Array.from({ length: ITEMS }, (_, index) => itemAt(shelfId, index));
house.catalogue.transaction(() => items.forEach((item) => house.catalogue.items.put(item)));
for (let index = 0; index < TIMELINES; index++) {
  const events = Array.from({ length: 40 }, (_, at) => {
    const { path } = items[(index * 37 + at * 11) % ITEMS]!.place;
    return clipDocument(`shot ${at}`, timeRange(100 + at, 25, PAL), externalReference(`file:///Volumes/VAULT/${encodeURI(path)}`, path, null));
  });
  const document = formatOtio(timelineDocument(`Cut ${index}`, rationalTime(0, PAL), [trackDocument('V1', 'Video', events)]));
  bringIn(house.catalogue, house.mounts, projectId, readTimelineFile(document, PAL), `cut ${index}.otio`, null, randomUUID);
}
for (let index = 0; index < RUNS; index++) {
  const sheet = { headline: { value: 0, of: 0, unit: 'files' as const, words: 'copied' }, lines: [], findings: [], fills: [], blocked: null };
  const id = house.catalogue.runs.add(
    { kind: 'pull', projectId, title: `Pull ${index}`, steps: [], detail: null, ...sheet },
    new Date().toISOString(),
  );
  house.catalogue.runs.setState(id, 'done', new Date().toISOString());
}
await house.close();

const server = spawn(
  process.execPath,
  [resolve('dist/main.mjs'), '--data', join(folder, 'data'), '--roots', folder, '--port', '0', '--watch', 'off'],
  {
    stdio: ['ignore', 'pipe', 'inherit'],
  },
);
const address = await new Promise<string>((done) =>
  server.stdout.on('data', (piece: Buffer) => /http:\S+/.test(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
);
const post = (path: string, body: unknown) =>
  fetch(`${address}api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
for (let index = 0; index < BINS; index++) await post(`projects/${projectId}/bins`, { do: 'make-bin', parent: '', name: `Bin ${index}` });

const PAGES = ['overview', 'timelines', 'timelines?view=usage', 'timelines?view=bins', 'timelines?view=versions', 'shelves', 'relink', 'pull', 'crates', 'runs']; // prettier-ignore
const STAGES = ['Overview', 'Timelines', 'Shelves', 'Relink', 'Pull', 'Crates', 'Runs'];
const ROUNDS = 5;
const serverMb = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))![1]) / 1024;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--js-flags=--expose-gc'] });
/** What a browser that was never here loads for a page, packed as it is sent; what the page asks of the interface not counted. */
async function loadedKb(name: string): Promise<number> {
  const context = await browser.newContext();
  const page = await context.newPage();
  const session = await context.newCDPSession(page);
  await session.send('Network.enable');
  const assets = new Set<string>();
  let bytes = 0;
  session.on('Network.responseReceived', ({ requestId, response }) => response.url.includes('/_astro/') && assets.add(requestId));
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => assets.has(requestId) && (bytes += encodedDataLength));
  await page.goto(`${address}p/${projectId}/${name}`);
  await page.locator('[data-ready]').waitFor();
  await page.waitForTimeout(1_000);
  await context.close();
  return bytes / 1000;
}

try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const times = new Map<string, number[]>(PAGES.map((name) => [name, []]));
  const heapMb = () =>
    page.evaluate(() => {
      (globalThis as unknown as { gc(): void }).gc();
      return (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize / 1e6;
    });
  const began = { server: 0, heap: 0 };
  for (let change = 0; change < CHANGES; change++) {
    const name = PAGES[change % PAGES.length]!;
    const from = performance.now();
    await page.goto(`${address}p/${projectId}/${name}`);
    await page.waitForFunction(() => document.querySelector('[data-ready]') !== null && document.querySelector('[aria-busy=true]') === null);
    times.get(name)!.push(performance.now() - from);
    if (change === PAGES.length) Object.assign(began, { server: serverMb(), heap: await heapMb() });
  }
  for (const [name, taken] of times) {
    taken.sort((a, b) => a - b);
    console.log(`${name}: median ${taken[taken.length >> 1]!.toFixed(0)} ms, slowest ${taken.at(-1)!.toFixed(0)} ms`);
  }
  // Within the page: from the click on a stage to its list.
  const moved = new Map<string, number[]>();
  for (let round = 0; round < ROUNDS; round++)
    for (const name of STAGES) {
      const from = performance.now();
      await page.locator('.rail a', { hasText: name }).click();
      await page.waitForFunction((title) => document.title.startsWith(title) && document.querySelector('[aria-busy=true]') === null, name);
      moved.set(name, [...(moved.get(name) ?? []), performance.now() - from]);
    }
  for (const [name, [first, ...later]] of moved)
    console.log(
      `${name} within the page: first ${first!.toFixed(0)} ms, then median ${later.sort((a, b) => a - b)[later.length >> 1]!.toFixed(0)} ms`,
    );
  for (const name of PAGES) console.log(`${name}: ${(await loadedKb(name)).toFixed(0)} kB of scripts, styles and fonts the first time`);
  await page.goto(`${address}p/${projectId}/${PAGES[0]}`);
  await page.locator('[data-ready]').waitFor();
  console.log(
    `after ${CHANGES} page changes: server ${began.server.toFixed(0)} → ${serverMb().toFixed(0)} MB, scripts of the page ${began.heap.toFixed(1)} → ${(await heapMb()).toFixed(1)} MB`,
  );
} finally {
  await browser.close();
  server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
}
