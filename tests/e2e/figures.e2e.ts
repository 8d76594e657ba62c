/** Every figure that stands on two screens is held against itself, and what a run did against the files it left. */
import { execFileSync } from 'node:child_process';
import { appendFileSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { asker, makeCrate, pullParts, runPlan, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';

let demo: DemoServer;
let ask: Ask;
let context: BrowserContext;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ask = asker(demo);
  context = await browser.newContext();
  page = await context.newPage();
  [{ id: project }] = await ask<[{ id: string }]>('projects');
  // One clip more, of which only the sound is used, and one event that is switched off.
  await ask(`projects/${project}/timelines`, { name: 'Sound only.edl', text: 'TITLE: Sound only\nFCM: NON-DROP FRAME\n\n001  A003     A     C        10:02:04:00 10:02:06:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: A003_C001\n' }); // prettier-ignore
});
test.afterAll(async () => {
  await context.close();
  await demo.stop();
});

const go = async (path: string) => {
  await page.goto(`${demo.address}${path}`);
  await page.locator('[data-ready]').waitFor();
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
};
const stage = (name: string) => go(`p/${project}/${name}`);
/** Bytes behind a figure, as its title says them. */
const bytesIn = (text: string): number => Number(/([\d\u2009]+) bytes/.exec(text)![1]!.replaceAll('\u2009', ''));
const bytesOf = async (on: ReturnType<Page['locator']>) => bytesIn((await on.locator('[title$=" bytes"]').first().getAttribute('title'))!);
const fact = (label: string) => page.locator('.fact').filter({ has: page.locator('.soft', { hasText: new RegExp(`^${label}$`) }) });
/** The value of a term on the paper. */
const term = (name: string) => page.locator('.sheet dt', { hasText: new RegExp(`^${name}$`) }).locator('xpath=following-sibling::dd[1]');

test('sizes and uses: projects, overview, its charts and usage', async () => {
  await go('');
  const listed = await bytesOf(page.locator('.row').first().locator('[role=gridcell]').nth(3));
  await stage('overview');
  expect(await bytesOf(fact('Media'))).toBe(listed);
  const used = await bytesOf(fact('Used by timelines'));
  const chart = (await page.locator('[role=img][aria-label*="FOUNDRY-A"]').first().getAttribute('aria-label'))!;
  const head = await page.locator('.project-name').innerText();
  const states = await page.locator('.health .legend b').allInnerTexts();
  const title = await page.locator('h1').innerText();
  const view = await ask<{
    usedBytes: number;
    mediaBytes: number;
    events: number;
    offlineEvents: number;
    byShelf: { usedBytes: number; unusedBytes: number }[];
    byKind: { bytes: number }[];
  }>(`projects/${project}/overview`);
  const sum = (of: readonly number[]) => of.reduce((total, one) => total + one, 0);
  expect(view.usedBytes).toBe(used);
  expect(sum(view.byShelf.map(({ usedBytes }) => usedBytes))).toBe(used);
  expect(sum(view.byShelf.map((shelf) => shelf.usedBytes + shelf.unusedBytes))).toBe(listed);
  expect(sum(view.byKind.map(({ bytes }) => bytes))).toBe(listed);
  expect(chart).toMatch(/MB/);
  await stage('timelines?view=usage');
  expect(await bytesOf(term('Used items, whole'))).toBe(used);
  expect((await bytesOf(term('Never used'))) + used).toBe(listed);
  // Health, title, relink and the rail count the same clips.
  const offline = sum(states.slice(1).map(Number));
  expect(sum(states.map(Number))).toBe(Number(/(\d+) clips/.exec(head)![1]));
  expect(title).toMatch(new RegExp(`^${offline} of ${sum(states.map(Number))} clips`));
  await stage('relink');
  await expect(page.locator('h1')).toHaveText(new RegExp(`^${offline} clips cannot be read`));
  await expect(page.locator('.rail a.on .count')).toHaveText(String(offline));
  const cards = await page.locator('.reason .top .strong').allInnerTexts();
  expect(sum(cards.map((text) => parseInt(text)))).toBe(offline);
  // Events and offline events: overview, and the list of timelines.
  await stage('timelines');
  const rows = await page.getByRole('grid', { name: 'Timelines' }).getByRole('row').allInnerTexts();
  expect(rows.length).toBeGreaterThan(4);
  const timelines = await ask<{ events: number; offlineEvents: number }[]>(`projects/${project}/timelines`);
  expect(sum(timelines.map(({ events }) => events))).toBe(view.events);
  expect(sum(timelines.map(({ offlineEvents }) => offlineEvents))).toBe(view.offlineEvents);
  await expect(page.locator('.rail a.on .count')).toHaveText(String(timelines.length));
});

test('a crate has one number of files and bytes everywhere', async () => {
  const run = await makeCrate(ask, project, 'Counted crate');
  const root = join(demo.drive('TRAVEL-SSD'), 'Counted crate');
  const manifest = readFileSync(join(root, 'manifest-sha256.txt'), 'utf8').trim().split('\n').length;
  const [, bytes, files] = /Payload-Oxum: (\d+)\.(\d+)/.exec(readFileSync(join(root, 'bag-info.txt'), 'utf8'))!.map(Number);
  // The files themselves, counted by another tool.
  const found = execFileSync('find', [join(root, 'data'), '-type', 'f', '-printf', '%s\n'], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .map(Number);
  expect([manifest, files]).toEqual([found.length, found.length]);
  expect(bytes).toBe(found.reduce((total, size) => total + size, 0));
  expect(readFileSync(join(root, 'data/report.html'), 'utf8')).toContain(`${found.length} files with this report`);
  await stage('crates?view=made');
  const row = page.getByRole('grid', { name: 'Crates made' }).getByRole('row', { name: /Counted crate/ });
  await expect(row.getByRole('gridcell').nth(4)).toHaveText(String(found.length));
  expect(await bytesOf(row)).toBe(bytes);
  await expect(page.locator('.rail a.on .count')).toHaveText('1');
  await stage('overview');
  await expect(fact('Last safe copy')).toContainText('Counted crate');
  const { place } = (await ask<{ name: string; place: { shelfId: string; path: string } }[]>(`projects/${project}/crates`))[0]!;
  await stage(`crates?view=open&shelf=${place.shelfId}&folder=${encodeURIComponent(place.path)}`);
  await expect(page.locator('.sheet .big')).toContainText(`${found.length} of ${found.length} files`);
  await expect(term('Read and compared')).toContainText(`${found.length} files`);
  await page.getByRole('button', { name: 'Check and open the crate' }).click();
  await expect(page.locator('.note.good')).toContainText(`All ${found.length} files are as the manifest says`);
  expect(run).toBeGreaterThan(0);
});

test('a run has one size: list, receipt, print, journal and disk; an undo says what it removed', async () => {
  const id = await pullParts(ask, project, 'Counted');
  const root = join(demo.drive('TRAVEL-SSD'), 'Counted');
  const found = execFileSync('find', [root, '-type', 'f', '-printf', '%s\n'], { encoding: 'utf8' }).trim().split('\n').map(Number);
  const onDisk = found.reduce((total, size) => total + size, 0);
  const said = async (run: number) => {
    await stage(`runs?run=${run}`);
    const row = page.getByRole('grid', { name: 'Runs' }).locator('.sel');
    await expect(row.getByRole('gridcell').first()).toHaveText(String(run));
    const printed = await context.newPage();
    await printed.goto(`${demo.address}receipts/${run}`);
    const text = await printed.locator('main').innerText();
    await printed.close();
    return { row: await bytesOf(row), printed: Number(/\((\d+) bytes\)/.exec(text)![1]), text };
  };
  const pulled = await said(id);
  expect(await bytesOf(term('Written and checked'))).toBe(onDisk);
  expect([pulled.row, pulled.printed]).toEqual([onDisk, onDisk]);
  expect(pulled.text).toContain('Written and checked');
  const undo = await runPlan(ask, 'undo', project, { runId: id, confirmed: true });
  const undone = await said(undo);
  expect(await bytesOf(term('Removed'))).toBe(onDisk);
  expect([undone.row, undone.printed]).toEqual([onDisk, onDisk]);
  expect(undone.text).toContain('Removed');
  expect(undone.text).not.toContain('Written');
});

test('a crate is what it is today: checked, locked against an undo, altered and told everywhere', async () => {
  const [{ id, runId, place, files }] = await ask<[{ id: string; runId: number; place: { shelfId: string; path: string }; files: number }]>(
    `projects/${project}/crates`,
  );
  const row = page.getByRole('grid', { name: 'Crates made' }).getByRole('row', { name: /Counted crate/ });
  await stage(`crates?view=made&crate=${id}`);
  await expect(row).toContainText('whole');
  await page.getByRole('button', { name: `Check ${files} files` }).click();
  await expect(page.locator('.sheet dl[data-run-state=done]')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the plan' }).click();
  // Beside the project as it is now: what the crate lacks is told source by source, and what it holds is no difference.
  await page.getByRole('textbox', { name: 'Compare with' }).click();
  await page.getByRole('option', { name: 'The project as it is now' }).click();
  const compared = page.getByRole('grid', { name: 'Media of the crate and the project' });
  await expect(compared.getByRole('row', { name: /A001_C001.mov/ })).toContainText('not in the crate');
  await expect(compared).not.toContainText('whole in the crate');
  await expect(term('Not in the crate')).toHaveText(/\d+ files/);
  await page.getByRole('button', { name: 'Back to the crates' }).click();
  await expect(row).toContainText('whole');
  await page.getByLabel('Locked until').fill('2999-12-31');
  await expect(page.getByRole('button', { name: 'Unlock' })).toBeVisible();
  await stage(`runs?run=${runId}`);
  await page.getByRole('button', { name: /^Undo/ }).first().click();
  await expect(page.locator('.sheet')).toContainText('The crate Counted crate is locked until 2999-12-31.');

  const media = join(demo.drive('TRAVEL-SSD'), place.path, 'data/media/picture');
  appendFileSync(
    join(
      media,
      readdirSync(media).find((name) => name.endsWith('.mov'))!,
    ),
    'x',
  );
  await ask(`shelves/${place.shelfId}/stocktake`, {});
  await stage(`crates?view=made&crate=${id}`);
  await expect(row).toContainText('changed');
  await expect(page.locator('.sheet')).toContainText('No safe copy: 1 file was changed.');
  // It lacks clips as well: nowhere is it called safe.
  await expect(page.locator('footer.strip')).toContainText('No safe copy');
  await stage('overview');
  await expect(fact('Last safe copy')).toContainText('none');
});

test('media is decoded from the page: counts before, and that it is known after', async () => {
  await stage('crates?view=decode');
  const button = page.getByRole('button', { name: /^Decode \d+ files?$/ });
  await expect(button).toBeEnabled();
  const frames = await term('Frames to decode').innerText();
  await button.click();
  await expect(page.locator('.sheet dl[data-run-state=done]')).toBeVisible({ timeout: 60_000 });
  const [run] = (await ask<{ rows: { id: number }[] }>('runs?limit=1')).rows;
  const { rows } = await ask<{ rows: { outcome: { checked: string } | null }[] }>(`runs/${run!.id}/steps?limit=100`);
  expect(rows.map(({ outcome }) => outcome?.checked)).toContain(`${frames} of ${frames} frames decode`);
});
