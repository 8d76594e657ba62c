/** Lists as files, names of many clips at once, sheets that stay in hand, and one figure for what is offline. */
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import Papa from 'papaparse';
import type { Ask } from '../helpers/ask';
import { openDemo, type DemoPage } from '../helpers/demo-page';

let opened: DemoPage;
let ask: Ask;
let page: Page;
let project = '';
const complaints: string[] = [];

test.beforeAll(async ({ browser }) => {
  opened = await openDemo(browser);
  ({ ask, page, project } = opened);
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
});
test.afterAll(() => opened.close());

const go = (stage: string) => opened.go(stage);
const keep = async (list: string, as: 'table' | 'page') => {
  await page.getByRole('button', { name: `Columns of ${list}`, exact: true }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: `Keep as a ${as}` }).click()]);
  await page.keyboard.press('Escape');
  return { name: download.suggestedFilename(), text: readFileSync(await download.path(), 'utf8') };
};
const tableOf = (text: string) => Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;

test('clips are kept as a table with state, place, size and used frames, figures as they are', async () => {
  await go('timelines?view=bins');
  const { name, text } = await keep('Clips', 'table');
  expect(name).toBe('Clips.csv');
  const rows = tableOf(text);
  const clips = await ask<{ total: number }>(`projects/${project}/clips`);
  expect(rows).toHaveLength(clips.total);
  const pour = rows.find(({ Clip }) => Clip === 'A002_C001')!;
  const [item] = (await ask<{ rows: { place: { path: string }; sizeBytes: number }[] }>('items?filter=A002_C001.mov')).rows;
  expect(pour).toMatchObject({
    State: 'present',
    File: 'A002_C001.mov',
    Place: `FOUNDRY-A / ${item!.place.path}`,
    'Size (bytes)': String(item!.sizeBytes),
  });
  expect(pour['Used frames (from 0, first–last)']).toMatch(/^\d+–\d+(, \d+–\d+)*$/);
  expect(rows.find(({ Clip }) => Clip === 'A001_C001')).toMatchObject({ State: 'missing' });
});

test('usage and what is missing are kept too, as a table and as a page to print', async () => {
  await go('timelines?view=usage');
  const usage = tableOf((await keep('Used items', 'table')).text);
  expect(usage.find(({ Item }) => Item === 'A002_C003.mov')).toMatchObject({ State: 'present', Shelf: 'FOUNDRY-A', Reel: 'A002' });
  expect(Number(usage[0]!['Size (bytes)'])).toBeGreaterThan(1_000);
  const shown = await page.getByRole('grid', { name: 'Used items' }).getAttribute('aria-rowcount');
  expect(usage).toHaveLength(Number(shown) - 1);
  const printed = await keep('Used items', 'page');
  expect(printed.name).toBe('Used items.html');
  await page.setContent(printed.text);
  await expect(page.getByRole('heading', { level: 1, name: 'Used items' })).toBeVisible();
  await expect(page.getByRole('row')).toHaveCount(Number(shown));
  await expect(page.locator('body')).toContainText('Bronze Hour · ');
});

test('many clips are renamed by a pattern: seen before, told, and taken back in one step', async () => {
  await go('timelines?view=bins');
  const clips = page.getByRole('grid', { name: 'Clips' });
  for (const name of ['A002_C001', 'A002_C002', 'A002_C003']) await clips.getByRole('checkbox', { name: `Tick ${name}`, exact: true }).check();
  await page.getByRole('button', { name: 'More for these clips' }).click();
  await page.getByRole('menuitem', { name: 'Rename 3 ticked clips by a pattern' }).click();
  const dialog = page.getByRole('dialog', { name: 'Rename 3 clips' });
  const pattern = dialog.getByRole('textbox', { name: 'Pattern of the names' });
  await expect(dialog).toContainText('They are called that already.');
  await pattern.fill('{reel} pour {n:');
  await expect(dialog).toContainText('A brace is not closed.');
  await expect(dialog.getByRole('button', { name: /^Rename \d/ })).toBeDisabled();
  await pattern.fill('{reel} pour {n:2}');
  await expect(dialog).toContainText('A002 pour 03');
  await dialog.getByRole('button', { name: 'Rename 3 clips' }).click();
  await expect(dialog).toHaveCount(0);
  for (const name of ['A002 pour 01', 'A002 pour 02', 'A002 pour 03']) await expect(clips).toContainText(name);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(clips).not.toContainText('A002 pour');
  await expect(clips).toContainText('A002_C003');
});

test('an event that is chosen leaves the export in hand', async () => {
  await go('timelines?list=events');
  await page.getByRole('button', { name: /^Export/ }).click();
  await expect(page.getByLabel('Plan sheet', { exact: true })).toContainText('Format and place');
  await page.getByRole('grid', { name: 'Events' }).getByRole('row').nth(3).click();
  await expect(page.getByRole('grid', { name: 'Events' }).locator('.sel')).toHaveCount(1);
  await expect(page.getByLabel('Plan sheet', { exact: true })).toContainText('Format and place');
});

test('what is offline is one figure: on the list, on the timeline, in the finish check', async () => {
  interface Head {
    readonly id: string;
    readonly offlineEvents: number;
  }
  const heads = await ask<Head[]>(`projects/${project}/timelines`);
  expect(heads.some(({ offlineEvents }) => offlineEvents > 0)).toBe(true);
  for (const { id, offlineEvents } of heads) {
    const one = await ask<Head>(`projects/${project}/timelines/${id}`);
    const settings = { timelineId: id, countDisabled: true };
    const { plan } = await ask<{ plan: { detail: { counts: { offline: number } } } }>('plans', { kind: 'finish', projectId: project, settings });
    expect([one.offlineEvents, plan.detail.counts.offline]).toEqual([offlineEvents, offlineEvents]);
  }
});

test('views that come and go leave nothing listening; nothing of all this complained', async () => {
  await go('timelines');
  const session = await page.context().newCDPSession(page);
  const listeners = async () => {
    await session.send('HeapProfiler.collectGarbage');
    const { metrics } = await session.send('Performance.getMetrics');
    return metrics.find(({ name }) => name === 'JSEventListeners')!.value;
  };
  await session.send('Performance.enable');
  const round = async () => {
    for (const name of ['Usage', 'Bins and clips', 'Versions', 'Timelines']) {
      await page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click();
      await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
    }
    for (const name of ['Sort', 'Runs', 'Timelines']) {
      await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name }).click();
      await expect(page).toHaveTitle(`${name} · Mill Shelf`);
      await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
    }
  };
  await round();
  const before = await listeners();
  for (let index = 0; index < 3; index++) await round();
  // One too many in each of the 21 changes would be 21.
  expect((await listeners()) - before).toBeLessThan(15);
  expect(complaints).toEqual([]);
});
