/**
 * A house at work: twenty pages listen, a run of two thousand files goes on, stock is taken and fifty pictures are asked
 * for at once. How long the slowest answer of each view takes. Nothing here passes or fails.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { clipDocument, externalReference, formatOtio, rationalTime, timelineDocument, timeRange, trackDocument } from '../src/core/interchange/otio/otio-writer'; // prettier-ignore
import { rate } from '../src/core/time/rate';
import { startServer } from './server';

const FILES = 2000;
const PAGES = 20;
const PICTURES = 50;
const PAL = rate(25);
const folder = mkdtempSync(join(tmpdir(), 'mill-load-'));
const path = (...names: string[]) => join(folder, ...names);
for (const name of ['MEDIA', 'STILLS', 'VAULT']) mkdirSync(path(name));
for (let index = 0; index < FILES; index++) writeFileSync(path('MEDIA', `f${index}.txt`), Buffer.alloc(20_000, index));
execFileSync('ffmpeg', ['-loglevel', 'error', '-f', 'lavfi', '-i', 'testsrc2=size=1920x1080:rate=1', '-frames:v', String(PICTURES), '-start_number', '1', path('STILLS', 'x%02d_a.png')]); // prettier-ignore

const { address, ask, stop } = await startServer(path('data'), folder);

try {
  const shelves: Record<string, string> = {};
  for (const name of ['MEDIA', 'STILLS', 'VAULT']) {
    shelves[name] = (await ask<{ id: string }>('POST', 'shelves', { path: path(name) })).id;
    if (name === 'VAULT') continue;
    await ask('POST', `shelves/${shelves[name]}/stocktake`, {});
    await ask('GET', `shelves/${shelves[name]}/stocktake?wait=end`);
  }
  const { id: projectId } = await ask<{ id: string }>('POST', 'projects', { name: 'Load', rate: PAL });
  const events = Array.from({ length: FILES }, (_, index) =>
    clipDocument(`f${index}`, timeRange(0, 5, PAL), externalReference(`file://${path('MEDIA', `f${index}.txt`)}`, `f${index}`, null)),
  );
  const document = formatOtio(timelineDocument('Cut', rationalTime(0, PAL), [trackDocument('V1', 'Video', events)]));
  const { upload } = (await (await fetch(`${address}api/uploads?name=cut.otio`, { method: 'POST', body: document })).json()) as { upload: string };
  const { timelineIds } = await ask<{ timelineIds: string[] }>('POST', `projects/${projectId}/timelines`, { upload });
  const settings = {
    timelineIds,
    media: 'whole',
    headFrames: 0,
    tailFrames: 0,
    joinGapFrames: 0,
    countDisabled: false,
    destination: { shelfId: shelves.VAULT, path: '' },
    folderName: 'out',
  };
  const request = { kind: 'pull', projectId, settings };
  const { digest } = await ask<{ digest: string }>('POST', 'plans', request);
  const views = [
    'projects',
    `projects/${projectId}`,
    `projects/${projectId}/overview`,
    `projects/${projectId}/clips`,
    `projects/${projectId}/timelines`,
    'shelves',
    'runs',
    `shelves/${shelves.MEDIA}/stocktake`,
  ];
  // The pages are open before the work begins, as they are when somebody starts it.
  for (const view of views) await ask('GET', view);
  const pages = Array.from({ length: PAGES }, () => new AbortController());
  for (const page of pages)
    void fetch(`${address}api/events`, { signal: page.signal })
      .then((response) => response.arrayBuffer())
      .catch(() => undefined);
  const { id: runId } = await ask<{ id: number }>('POST', 'runs', { ...request, digest });
  await ask('POST', `shelves/${shelves.STILLS}/stocktake`, {});
  const { rows: items } = await ask<{ rows: { id: string }[] }>('GET', `shelves/${shelves.STILLS}/items`);
  let pictures = 0;
  for (const item of items) void fetch(`${address}api/items/${item.id}/poster?frame=0`).then((response) => response.arrayBuffer().then(() => response.ok && pictures++)); // prettier-ignore

  const slowest = new Map(views.map((view) => [view, { took: 0, at: 0 }]));
  const began = performance.now();
  let done = 0;
  while (performance.now() - began < 90_000) {
    await Promise.all(
      views.map(async (view) => {
        const from = performance.now();
        await ask('GET', view);
        const took = performance.now() - from;
        if (took > slowest.get(view)!.took) slowest.set(view, { took, at: from - began });
      }),
    );
    const run = (await ask<{ rows: { id: number; state: string; stepsDone: number }[] }>('GET', 'runs')).rows.find((entry) => entry.id === runId)!;
    done = run.stepsDone;
    if (run.state !== 'running') break;
    await wait(200);
  }
  const seconds = ((performance.now() - began) / 1000).toFixed(0);
  console.log(
    `${PAGES} pages, a run of ${FILES} files (${done} done in ${seconds} s), a stocktake, ${items.length} pictures (${pictures} made): the slowest answer`,
  );
  for (const [view, { took, at }] of slowest)
    console.log(
      `  ${view.replace(projectId, ':project').replace(shelves.MEDIA!, ':shelf').padEnd(36)} ${took.toFixed(0)} ms, ${(at / 1000).toFixed(1)} s after the run began`,
    );
  for (const page of pages) page.abort();
  await ask('POST', `runs/${runId}/cancel`, {}).catch(() => undefined);
} finally {
  await stop();
  rmSync(folder, { recursive: true, force: true });
}
