/**
 * A list of a hundred thousand rows in the browser, fed in windows by the server: how long a frame takes while it is
 * scrolled (16.7 ms is sixty a second), and how long a jump to the middle and ticking all of it take. Nothing here passes or fails.
 */
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium } from '@playwright/test';
import { rate } from '../src/core/time/rate';
import { House } from '../src/server/house';
import { registerShelf } from '../src/server/stock/register-shelf';
import { configOf, itemAt } from './made-up';

const ROWS = 100_000;
const FRAMES = 240;
const PAL = rate(25);
const folder = mkdtempSync(join(tmpdir(), 'mill-rows-'));
mkdirSync(join(folder, 'VAULT'));

const house = new House(configOf(folder));
const { id: shelfId } = registerShelf(house.catalogue, house.mounts, join(folder, 'VAULT'));
const projectId = randomUUID();
house.catalogue.projects.add({ id: projectId, name: 'Rows', rate: PAL, dropFrame: false, createdAt: new Date().toISOString() });
house.catalogue.transaction(() => {
  for (let index = 0; index < ROWS; index++) house.catalogue.items.put(itemAt(shelfId, index));
});
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
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  page.on('pageerror', (error) => console.log(error.message));
  await page.goto(`${address}p/${projectId}/shelves`);
  const list = page.getByRole('grid', { name: 'Items' });
  await page.locator('.row').first().waitFor();
  const rows = Number(await list.getAttribute('aria-rowcount')) - 1;
  for (const step of [34, 400, 4000]) {
    const times = await list.evaluate(
      async (element, { by, frames }) => {
        const out: number[] = [];
        let last = performance.now();
        for (let frame = 0; frame < frames; frame++) {
          element.scrollTop += by;
          await new Promise((done) => requestAnimationFrame(done));
          out.push(performance.now() - last);
          last = performance.now();
        }
        return out.sort((a, b) => a - b);
      },
      { by: step, frames: FRAMES },
    );
    const at = (share: number) => times[Math.floor((times.length - 1) * share)]!.toFixed(1);
    console.log(`${rows} rows, ${step} pixels a frame: median ${at(0.5)} ms, 95 of 100 within ${at(0.95)} ms, longest ${at(1)} ms`);
  }
  const from = performance.now();
  await list.evaluate((element) => (element.scrollTop = element.scrollHeight / 2));
  await page.locator('.row:not([aria-busy])').first().waitFor();
  console.log(`a jump to the middle shows its rows after ${(performance.now() - from).toFixed(0)} ms`);
} finally {
  await browser.close();
  server.kill('SIGTERM');
  rmSync(folder, { recursive: true, force: true });
}
