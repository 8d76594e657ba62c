/** The Timelines stage in the real browser: drawing, usage, bins, versions, and timelines on their way in and out. */
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import {
  clipDocument,
  externalReference,
  formatOtio,
  rationalTime,
  timelineDocument,
  timeRange,
  trackDocument,
} from '../../src/core/interchange/otio/otio-writer';
import { startDemo, type DemoServer } from '../helpers/demo-server';
import { drag } from '../helpers/drag';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let page: Page;

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  await page.goto(demo.address);
  await page.getByRole('link', { name: 'Bronze Hour', exact: true }).click();
  await page.locator('[data-ready]').waitFor();
  await page.locator('.rail a', { hasText: 'Timelines' }).click();
  await page.locator('.canvas-scroll').waitFor();
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const sheet = () => page.locator('.sheet');
const dialog = () => page.getByRole('dialog');
const view = (name: string) => page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click();
const choose = async (label: string, option: string | RegExp) => {
  await page.getByRole('textbox', { name: label, exact: true }).click();
  await page.getByRole('option', { name: option }).click();
};
const lookAt = async (file: string) => {
  await page.getByRole('button', { name: 'Bring in' }).click();
  await choose('Shelf', 'STUDIO-RAID');
  await choose('Timeline file', `Timelines/${file}`);
  await dialog().getByRole('button', { name: 'Look at it' }).click();
};
const finished = async () => {
  await page.locator('[data-run-state=done], [data-run-state=failed]').waitFor({ timeout: 60_000 });
  await expect(page.locator('[data-run-state]'), await sheet().innerText()).toHaveAttribute('data-run-state', 'done');
};
const drawing = () => page.locator('.canvas-scroll');

test('the drawing: nested ones open in place, the arrows walk into them, zoom goes down to frames', async () => {
  await expect(page.getByRole('row', { name: /Fine cut v7/ })).toContainText('00:00:42:15');
  const closed = (await drawing().locator('canvas').boundingBox())!.height;
  await drawing().focus();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await drawing().locator('canvas').boundingBox())!.height).toBeGreaterThan(closed);
  // Three events of V2, four of V1, then the first shot of the montage.
  for (let index = 0; index < 8; index++) await page.keyboard.press('ArrowRight');
  await expect(sheet()).toContainText('Event in Pouring montage');
  await expect(sheet()).toContainText('10:00:13:20');
  await page.keyboard.press('Home');
  await expect(sheet()).toContainText('Title');
  for (let index = 0; index < 20; index++) await page.keyboard.press('+');
  await expect(page.getByRole('button', { name: 'Zoom in' })).toBeDisabled();
  expect(await drawing().evaluate((element) => element.scrollWidth)).toBeGreaterThan(100_000);
  await page.keyboard.press('0');
  await expect(page.getByRole('button', { name: 'Zoom out' })).toBeDisabled();
});

test('a source tells its events; an event tells who else uses its item, and leads there', async () => {
  await page.getByLabel('Find a source').fill('a001_c002');
  await page.getByRole('grid', { name: 'Sources' }).getByRole('row').nth(1).dblclick();
  await expect(page.getByRole('grid', { name: 'Events' }).getByRole('row')).toHaveCount(4);
  await page.getByRole('grid', { name: 'Events' }).getByText('Ladle again').click();
  await expect(sheet()).toContainText('Also used by 6 events');
  await sheet()
    .getByRole('button', { name: /V1 A001_C002/ })
    .click();
  await expect(page.getByRole('application', { name: /Old assembly/ })).toBeVisible();
  await expect(sheet()).toContainText('Record in, out');
});

test('usage: items with their parts, what nobody uses, what lies in bins only', async () => {
  await view('Usage');
  const used = page.getByRole('grid', { name: 'Used items' });
  await expect(used.getByRole('row', { name: /A001_C002.mov/ })).toContainText('96 %');
  await used.getByText('A001_C005.mov').click();
  await expect(sheet()).toContainText('90 frames of 250 frames in 2 parts');
  await page.getByText(/^Never used/).click();
  await expect(page.getByRole('grid', { name: 'Items never used' })).toContainText('A003_C001_boom.wav');
  await page.getByText(/^In bins only/).click();
  await expect(page.getByRole('grid', { name: 'Clips in bins only' })).toContainText('Not used yet');
  await page.getByRole('textbox', { name: 'Timelines that count' }).click();
  await page.getByRole('option', { name: 'Trailer 30s' }).click();
  await page.keyboard.press('Escape');
  await page.getByText(/^Used \d+/).click();
  await expect(used.getByRole('row')).toHaveCount(9);
});

test('bins: make, drag, annotate, tidy, and take it all back', async () => {
  await view('Bins and clips');
  const tree = page.getByRole('tree', { name: 'Bins' });
  const clips = page.getByRole('grid', { name: 'Clips', exact: true });
  await page.getByRole('button', { name: 'New bin' }).click();
  await page.getByRole('textbox', { name: 'Name of the new bin' }).fill('Selects');
  await page.keyboard.press('Enter');
  await expect(tree).toContainText('Selects');
  await page.getByLabel('Find a clip').fill('A002');
  await expect(clips.getByText('A001_C001', { exact: true })).toHaveCount(0);
  await drag(page, clips.getByText('A002_C001', { exact: true }), tree.getByText('Selects'));
  await expect(tree.getByRole('treeitem', { name: /Selects/ })).toContainText('1');
  await clips.getByText('A002_C001', { exact: true }).click();
  await sheet().getByLabel('Note').fill('best polish');
  await sheet().getByRole('radio', { name: 'ochre' }).click();
  await expect(clips).toContainText('best polish');
  await page.getByLabel('Find a clip').fill('');
  await tree.getByText('All clips').click();
  await expect(tree).toContainText('27');
  await page.getByRole('button', { name: 'More for these clips' }).click();
  await page.getByRole('menuitem', { name: 'Tidy: take 3 unused clips out of all bins' }).click();
  await expect(tree).toContainText('24');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(tree).toContainText('27');
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Taken back').first()).toBeVisible();
  await page.getByRole('button', { name: 'Clips from shelves' }).click();
  await dialog().getByLabel('Find an item').fill('B_0413');
  await expect(dialog().getByText('Nothing is called that')).toBeVisible();
  await dialog().getByLabel('Find an item').fill('A001_C001');
  await dialog()
    .getByRole('checkbox', { name: /A001_C001/ })
    .check();
  await dialog().getByRole('button', { name: 'Make clips of 1 item' }).click();
  await expect(tree).toContainText('28');
});

test('versions: what changed between two cuts, what was only pushed along', async () => {
  await view('Versions');
  const changes = page.getByRole('grid', { name: 'Changes' });
  for (const change of ['trimmed', 'retimed', 'removed', 'added', 'moved', 'switched on']) await expect(changes).toContainText(change);
  // The speed of Tower varies in the newer one only.
  await expect(changes.getByRole('row')).toHaveCount(8);
  await page.getByRole('button', { name: /pushed along 8/ }).click();
  await expect(changes.getByRole('row')).toHaveCount(16);
  await changes.getByText('Pour wide').click();
  await expect(sheet()).toContainText('in +20 fr.');
  await sheet().getByRole('button', { name: 'Show it on the newer timeline' }).click();
  await expect(page.getByRole('application', { name: /Fine cut v7/ })).toBeVisible();
  await expect(sheet()).toContainText('Pour wide');
});

test('a clip list comes in with its columns chosen, a sheet by a bridge, a bundle by a plan', async () => {
  await lookAt('selects.csv');
  await expect(dialog().getByRole('textbox', { name: 'Column Remarks' })).toHaveValue('notes');
  await choose('Column Reel', 'left out');
  await dialog().getByRole('button', { name: 'Bring in' }).click();
  await expect(page.getByText('3 new clips')).toBeVisible();
  await lookAt('other_ending.cutsheet');
  await expect(dialog()).toContainText('2 lines of the sheet were read');
  await dialog().getByRole('button', { name: 'Bring in' }).click();
  await expect(page.getByRole('application', { name: /Alternative ending/ })).toBeVisible();
  await lookAt('ring_test.otioz');
  await choose('Destination shelf', /TRAVEL-SSD/);
  await sheet().getByRole('button', { name: 'Unpack 2 files and bring in' }).click();
  await finished();
  expect(existsSync(join(demo.drive('TRAVEL-SSD'), 'ring_test/media/ring_01.mov'))).toBe(true);
  await page.getByRole('row', { name: /Ring test/ }).click();
  await expect(sheet()).toContainText('2 of 2 sources present');
});

test('export: the plan says what the format cannot carry, the files open elsewhere', async () => {
  await page.getByRole('checkbox', { name: 'Export Fine cut v7' }).check();
  await page.getByRole('checkbox', { name: 'Export Ring test' }).check();
  await page.getByRole('button', { name: 'Export 2' }).click();
  await choose('Destination shelf', /TRAVEL-SSD/);
  await choose('Format', /CMX 3600/);
  await expect(sheet()).toContainText('Speed that varies is written as its average: Tower.');
  await sheet().getByRole('button', { name: 'Write 3 files' }).click();
  await finished();
  const exports = join(demo.drive('TRAVEL-SSD'), 'Exports');
  expect(readFileSync(join(exports, 'Fine cut v7 V1.edl'), 'utf8')).toContain('* FROM CLIP NAME: Tower');
  await sheet().getByRole('button', { name: 'Back to the plan' }).click();
  await choose('Format', /one file/);
  await expect(sheet()).toContainText('Media inside');
  await sheet().getByRole('button', { name: 'Write 2 files' }).click();
  await finished();
  execFileSync('unzip', ['-tq', join(exports, 'Ring test.otioz')]);
});

test('20 000 events: they come in beside everything else, are drawn at once and scroll without a long frame', async () => {
  const rate = { num: 25, den: 1 };
  const clips = Array.from({ length: 20_000 }, (_, index) =>
    clipDocument(`c${index}`, timeRange(index % 700, 12, rate), externalReference(`/m/c${index % 400}.mov`, '', timeRange(0, 1000, rate))),
  );
  const file = join(demo.folder, 'long.otio');
  writeFileSync(file, formatOtio(timelineDocument('Long', rationalTime(0, rate), [trackDocument('V1', 'Video', clips)])));
  await page.getByRole('button', { name: 'Bring in' }).click();
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(dialog()).toContainText('20 000 events', { timeout: 30_000 });
  await dialog().getByRole('button', { name: 'Bring in' }).click();
  // The server answers others while it reads.
  expect((await page.request.get(`${demo.address}api/shelves`)).ok()).toBe(true);
  await expect(page.getByRole('application', { name: /Long, 20000 events/ })).toBeVisible({ timeout: 60_000 });
  await drawing().focus();
  for (let index = 0; index < 8; index++) await page.keyboard.press('+');
  const frames = await drawing().evaluate(async (element) => {
    const times: number[] = [];
    let last = performance.now();
    for (let step = 0; step < 60; step++) {
      element.scrollLeft += 400;
      await new Promise((done) => requestAnimationFrame(done));
      times.push(performance.now() - last);
      last = performance.now();
    }
    return times.sort((a, b) => a - b);
  });
  console.log(`scrolling 20 000 events: median frame ${frames[30]!.toFixed(1)} ms, longest ${frames[59]!.toFixed(1)} ms`);
  await page.getByLabel('Find a source').fill('c7.mov');
  await page.getByRole('radiogroup', { name: 'List below' }).getByText('Events').click();
  const events = page.getByRole('grid', { name: 'Events' });
  await expect(events).toHaveAttribute('aria-rowcount', '51');
  // Keys that come faster than they are drawn all arrive.
  await page.getByLabel('Find a source').fill('');
  await expect(events).toHaveAttribute('aria-rowcount', '20001');
  await events.focus();
  await page.keyboard.press('End');
  await expect(events.getByRole('row', { name: /c19999/ })).toHaveAttribute('aria-selected', 'true');
  const rows = await events.evaluate((grid) => {
    for (let press = 0; press < 40; press++) grid.dispatchEvent(new KeyboardEvent('keydown', { key: 'PageUp', bubbles: true }));
    return 40 * Math.max(1, Math.floor(grid.clientHeight / 34) - 1);
  });
  await expect(events.getByRole('row', { name: new RegExp(`c${19_999 - rows}\\b`) })).toHaveAttribute('aria-selected', 'true');
});

test('what is in hand stays in hand while the list is scrolled away from it', async () => {
  await view('Bins and clips');
  const clips = page.getByRole('grid', { name: 'Clips', exact: true });
  await expect(clips).toHaveAttribute('aria-rowcount', /^4\d\d$/);
  await clips.focus();
  // All of them, also those that have not come; what a filter hides is said.
  await page.keyboard.press('Control+a');
  const count = Number(await clips.getAttribute('aria-rowcount')) - 1;
  await expect(page.getByRole('button', { name: `Move ${count} to …` })).toBeVisible();
  await page.getByLabel('Find a clip').fill('c39');
  await expect(page.getByRole('button', { name: `Move ${count} (${count - 11} not in this list) to …` })).toBeVisible();
  await page.getByLabel('Find a clip').fill('');
  await expect(page.getByRole('button', { name: `Move ${count} to …` })).toBeVisible();
  await clips.focus();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Home');
  const name = await sheet().getByRole('textbox', { name: 'Clip' }).inputValue();
  await sheet().getByLabel('Note').fill('half a sentence');
  for (const share of [1, 0.5, 0.9]) {
    await clips.evaluate((element, at) => (element.scrollTop = element.scrollHeight * at), share);
    await expect(clips.locator('.row[aria-busy]')).toHaveCount(0);
    await expect(sheet().getByRole('textbox', { name: 'Clip' })).toHaveValue(name);
    await expect(sheet().getByLabel('Note')).toHaveValue('half a sentence');
  }
  await sheet().getByLabel('Note').blur();
  await clips.evaluate((element) => (element.scrollTop = 0));
  await expect(clips.getByRole('row').nth(1)).toContainText('half a sentence');
});
