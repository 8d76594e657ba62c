/** The whole job in the real browser on the demo production: from a broken project on five drives to a verified crate. */
import { execFileSync } from 'node:child_process';
import { cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { startDemo, type DemoServer } from '../helpers/demo-server';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let page: Page;
let address = '';
let folder = '';
const drive = (name: string) => demo.drive(name);

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ({ address, folder } = demo);
  page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
});

test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const ready = () => page.locator('[data-ready]').waitFor();
const rail = async (name: string) => {
  await page.locator('.rail a', { hasText: name }).click();
  await expect(page.locator('.rail a.on')).toContainText(name);
  await ready();
};
const choose = async (label: string, option: string | RegExp) => {
  // On a busy machine what is asked meanwhile may close the list again.
  await expect(async () => {
    await page.getByRole('textbox', { name: label, exact: true }).click();
    await page.getByRole('option', { name: option }).click({ timeout: 3_000 });
  }).toPass({ timeout: 30_000 });
};
const finished = async () => {
  await page.locator('[data-run-state=done], [data-run-state=failed]').waitFor({ timeout: 120_000 });
  await expect(page.locator('[data-run-state]'), await page.locator('.sheet').innerText()).toHaveAttribute('data-run-state', 'done');
};

test('projects: the list tells size, health and last safe copy; make, rename, duplicate, remove', async () => {
  await page.goto(address);
  await ready();
  const row = page.getByRole('row', { name: /Bronze Hour/ });
  await expect(row).toContainText('25 fps');
  await expect(row).toContainText('none yet');
  await expect(row).toContainText(/1\d\d MB/);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Second film');
  await page.getByRole('button', { name: 'Make the project' }).click();
  await expect(page.getByRole('heading', { name: 'Nothing in here yet' })).toBeVisible();
  await page.goto(address);
  const menu = async (name: string, item: string) => {
    await page.getByRole('button', { name: `More for ${name}`, exact: true }).click();
    await page
      .getByRole('menu', { name: `More for ${name}`, exact: true })
      .getByRole('menuitem', { name: item })
      .click();
  };
  await menu('Second film', 'Duplicate');
  await expect(page.getByRole('row', { name: /Second film copy/ })).toBeVisible();
  await menu('Second film copy', 'Rename');
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Third film');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  for (const name of ['Third film', 'Second film']) {
    await menu(name, 'Remove from the list');
    await page.getByRole('dialog').getByRole('button', { name: 'Remove from the list' }).click();
    await expect(page.getByRole('link', { name, exact: true })).toBeHidden();
  }
  await page.getByRole('link', { name: 'Bronze Hour' }).click();
  await expect(page.getByRole('heading', { name: '12 of 27 clips need attention' })).toBeVisible();
  await expect(page.getByText('Relink 7 missing clips')).toBeVisible();
});

test('shelves: what is on them; a folder becomes a shelf; a drive is plugged in', async () => {
  await rail('Shelves');
  await expect(page.getByRole('heading', { name: 'Shelves' })).toBeVisible();
  await expect(page.getByText('4 of 5 plugged in.')).toBeVisible();
  const row = page.getByRole('row', { name: /A001_C002.mov/ });
  for (const fact of ['RDD 36', '640×360 · 10 bit', '00:00:20:00', '09:16:00:00', 'A001']) await expect(row).toContainText(fact);
  await page.getByLabel('Filter items').fill('a002 rdd');
  await expect(page.getByRole('row', { name: /A001/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a drive or folder' }).click();
  await page.getByRole('treeitem', { name: /elsewhere/ }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('LAPTOP');
  await page.getByRole('button', { name: 'Add and read it' }).click();
  await expect(page.getByRole('button', { name: 'LAPTOP', exact: true })).toBeVisible();
  await page.getByRole('group', { name: 'SOUND-CART', exact: true }).getByRole('button', { name: 'Plug in' }).click();
  await expect(page.getByText('6 of 6 plugged in.')).toBeVisible();
});

test('timelines: an EDL comes in after a look at it, a file that is none is refused; events tell their points', async () => {
  await rail('Timelines');
  await page.getByRole('button', { name: 'Bring in' }).click();
  const bad = join(folder, 'broken.otio');
  writeFileSync(bad, readFileSync(join(drive('STUDIO-RAID'), 'Timelines/trailer_30s.otio'), 'utf8').slice(0, 900));
  const dialog = page.getByRole('dialog');
  await page.locator('input[type=file]').setInputFiles(bad);
  await expect(dialog).toContainText(/line \d+.*ends in the middle/);
  await expect(dialog.getByRole('button', { name: 'Bring in' })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Another file' }).click();
  await choose('Shelf', 'STUDIO-RAID');
  await choose('Timeline file', 'Timelines/teaser.edl');
  await dialog.getByRole('button', { name: 'Look at it' }).click();
  await expect(dialog).toContainText('CMX 3600 list');
  await expect(dialog).toContainText('3 events');
  await expect(dialog).toContainText('3 clips: 3 matched on FOUNDRY-A by name and timecode');
  await dialog.getByRole('button', { name: 'Bring in' }).click();
  await expect(page.getByRole('row', { name: /BRONZE HOUR TEASER/ })).toBeVisible();
  await page.getByRole('row', { name: /Fine cut v7/ }).click();
  const canvas = page.getByRole('application', { name: /Fine cut v7/ });
  await canvas.focus();
  await canvas.press('ArrowRight');
  await expect(page.getByRole('complementary')).toContainText('10:00:00:00');
  await page.getByRole('grid', { name: 'Sources' }).getByText('A002_C004.mov').click();
  await expect(page.getByRole('complementary').locator('img')).toBeVisible();
});

test('relink: reasons, evidence, six of them proven before anything changes; then they are back', async () => {
  await rail('Relink');
  const folderReason = page.locator('[data-reason=missing]', { hasText: 'A folder was renamed or moved on FOUNDRY-A' });
  await expect(folderReason).toContainText('6 of 6 proven');
  await expect(page.getByText('6 of 8 found.')).toBeVisible();
  await expect(page.getByRole('cell', { name: 'Day 1 camera originals' }).first()).toBeVisible();
  await page.locator('[data-run-plan]').click();
  await finished();
  await expect(page.locator('.health')).toContainText('missing 1');
});

test('pull: keep bars, bytes before and after, cuts proven; the originals untouched', async () => {
  await rail('Pull');
  const original = join(drive('FOUNDRY-A'), 'Day 1 camera originals/A001_C001.mov');
  const before = execFileSync('sha256sum', [original], { encoding: 'utf8' });
  await expect(page.getByRole('row', { name: /A001_C002.mov/ })).toContainText('2 exact parts');
  await expect(page.getByRole('row', { name: /B_0412_pour.mp4/ })).toContainText('whole long-GOP');
  await expect(page.locator('[data-run-plan]')).toBeDisabled();
  await choose('Destination shelf', /TRAVEL-SSD/);
  await expect(page.locator('.sheet')).toContainText('free afterwards');
  await page.getByRole('button', { name: /^Pull \d+ files/ }).click();
  await finished();
  expect(existsSync(join(drive('TRAVEL-SSD'), 'Bronze Hour pulled/media/picture/A001_C002_part2.mov'))).toBe(true);
  expect(execFileSync('sha256sum', [original], { encoding: 'utf8' })).toBe(before);
});

test('crate: made, checked, carried elsewhere, opened again with everything present', async () => {
  await rail('Crates');
  await choose('Destination shelf', /TRAVEL-SSD/);
  await page.getByRole('textbox', { name: 'Name of the crate' }).fill('Bronze Hour crate');
  await page.getByRole('button', { name: /^Make the crate of/ }).click();
  await finished();
  const crate = join(drive('TRAVEL-SSD'), 'Bronze Hour crate');
  execFileSync('sha256sum', ['--quiet', '--strict', '-c', 'manifest-sha256.txt'], { cwd: crate });
  cpSync(crate, join(folder, 'elsewhere/carried'), { recursive: true });
  rmSync(crate, { recursive: true });

  await page.getByText('Open a crate').click();
  await page.getByRole('button', { name: 'LAPTOP' }).click();
  await page.getByRole('treeitem', { name: /carried/ }).click();
  await page.getByRole('button', { name: 'Take this folder' }).click();
  await page.getByRole('button', { name: 'Check and open the crate' }).click();
  await finished();
  await page.getByRole('link', { name: 'Go to the new project' }).click();
  await ready();
  // What was never in the crate is known by its name and its content alone.
  await expect(page.getByText('2 events of the timelines show nothing')).toBeVisible();
  await expect(page.getByText('Bronze Hour, from a crate')).toBeVisible();
});

test('runs: receipts with checksums; the pull is undone and its files go', async () => {
  await page.goto(address);
  await page.getByRole('link', { name: 'Bronze Hour', exact: true }).click();
  await rail('Runs');
  const runs = page.getByRole('grid', { name: 'Runs', exact: true });
  await expect(runs).toContainText('Make the crate Bronze Hour crate');
  await runs.getByText('Pull the used parts').click();
  const files = page.getByRole('grid', { name: 'Files of the run' });
  await expect(files).toContainText('frames equal to the source');
  // A row opens to its whole text; what is looked for is found in words of the result too.
  await page.getByLabel('Find a file in this receipt').fill('C002_PART1 equal');
  await expect(files.getByRole('row')).toHaveCount(2);
  await files.getByText('A001_C002_part1.mov').dblclick();
  await expect(page.getByRole('dialog')).toContainText(/SHA-256\s*[0-9a-f]{64}/);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo run/ }).click();
  await page.getByRole('button', { name: /^Undo run \d+: remove \d+ files/ }).click();
  await finished();
  expect(existsSync(join(drive('TRAVEL-SSD'), 'Bronze Hour pulled'))).toBe(false);
  const { rows } = (await (await page.request.get(`${address}api/runs?filter=pull`)).json()) as { rows: { id: number; title: string }[] };
  const pull = rows.find(({ title }) => title.startsWith('Pull the used parts'))!.id;
  await page.goto(`${address}receipts/${pull}`);
  await expect(page.locator('.receipt')).toContainText('A001_C002_part1.mov');
  const journal = (await (await page.request.get(`${address}api/runs/${pull}/steps?limit=1000`)).json()) as { rows: { fileCount: number | null }[] };
  await expect(page.locator('.receipt tbody tr')).toHaveCount(journal.rows.reduce((sum, { fileCount }) => sum + (fileCount ?? 1), 0));
});

test('runs: an undo names who uses the files and waits for their word; what was changed since stays', async () => {
  await page.goto(address);
  await page.getByRole('link', { name: 'Bronze Hour', exact: true }).click();
  await ready();
  await rail('Crates');
  await choose('Destination shelf', /TRAVEL-SSD/);
  await page.getByRole('textbox', { name: 'Name of the crate' }).fill('In use');
  await page.getByRole('button', { name: /^Make the crate of/ }).click();
  await finished();
  await page.getByText('Open a crate').click();
  await page.getByRole('button', { name: 'TRAVEL-SSD' }).click();
  await page.getByRole('treeitem', { name: /In use/ }).click();
  await page.getByRole('button', { name: 'Take this folder' }).click();
  await page.getByRole('button', { name: 'Check and open the crate' }).click();
  await finished();
  writeFileSync(join(drive('TRAVEL-SSD'), 'In use/data/report.html'), 'notes of my own');

  await rail('Runs');
  await page.getByRole('grid', { name: 'Runs', exact: true }).getByText('Make the crate In use').click();
  await page.getByRole('button', { name: /^Undo run/ }).click();
  const undo = page.getByRole('button', { name: /^Undo run \d+: remove \d+ files/ });
  await expect(page.getByText(/clips of "Bronze Hour, from a crate.*" read files that would be removed/)).toBeVisible();
  await expect(undo).toBeDisabled();
  await page.getByRole('checkbox', { name: /read these files. Remove them all the same/ }).check();
  await undo.click();
  await finished();
  await expect(page.locator('.sheet')).toContainText('1 file was left where it is');
  expect(readFileSync(join(drive('TRAVEL-SSD'), 'In use/data/report.html'), 'utf8')).toBe('notes of my own');
  expect(existsSync(join(drive('TRAVEL-SSD'), 'In use/bagit.txt'))).toBe(false);
});

test('shelves: a copy of a drive is shown beside it and becomes a shelf of its own; taken off the list, it can come back', async () => {
  execFileSync('cp', ['-a', drive('FOUNDRY-B'), join(folder, 'bay/plugged/FOUNDRY-B backup')]);
  const copies = async () =>
    ((await (await fetch(`${address}api/shelves`)).json()) as { copies: readonly string[] }[]).flatMap((shelf) => shelf.copies);
  await expect.poll(copies, { timeout: 10_000 }).toHaveLength(1);
  await rail('Shelves');
  await page.reload();
  await ready();
  await expect(page.getByRole('status').filter({ hasText: 'A copy of FOUNDRY-B bears its marker' })).toBeVisible();
  await page.getByRole('button', { name: 'Make it a shelf of its own' }).click();
  await expect(page.getByRole('button', { name: 'FOUNDRY-B copy', exact: true })).toBeVisible();
  await expect(page.getByText('bears its marker')).toHaveCount(0);
  await page.getByRole('button', { name: 'More for FOUNDRY-B copy' }).click();
  await page.getByRole('menuitem', { name: /Take off the list/ }).click();
  await expect(page.getByRole('button', { name: 'FOUNDRY-B copy', exact: true })).toHaveCount(0);
});

test('keys: stages by number, the palette, the help', async () => {
  await page.goto(address);
  await page.getByRole('link', { name: 'Bronze Hour', exact: true }).click();
  await ready();
  await page.keyboard.press('4');
  await expect(page.getByRole('heading', { name: 'Pull the used media' })).toBeVisible();
  await ready();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Filter the list');
  await page.keyboard.press('Escape');
  // All of it before anything is drawn anew, as it comes where the machine is slow: no letter is lost or leads to a stage.
  await page.evaluate(() => {
    const press = (key: string, ctrlKey = false) =>
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key, code: `Key${key.toUpperCase()}`, ctrlKey, bubbles: true, cancelable: true }));
    press('k', true);
    for (const letter of 'trail') press(letter);
  });
  await expect(page.getByRole('searchbox', { name: 'Find anything' }).or(page.getByRole('textbox', { name: 'Find anything' }))).toBeFocused();
  await page.keyboard.type('er');
  await expect(page.getByRole('button', { name: /Trailer 30s/ })).toBeVisible();
  expect(page.url()).toContain('/pull');
});
