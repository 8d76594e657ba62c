/** Sorting in the browser: the plan followed as it changes, rows moved by hand, a scheme changed, moved and put back. */
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { asker, shelfId, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';
import { filesBelow } from '../helpers/trust-house';

let demo: DemoServer;
let ask: Ask;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ask = asker(demo);
  page = await browser.newPage({ acceptDownloads: true });
  page.on('pageerror', (error) => {
    throw error;
  });
  [{ id: project }] = await ask<[{ id: string }]>('projects');
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const go = async (view = '') => {
  await page.goto(`${demo.address}p/${project}/sort${view}`);
  await page.locator('[data-ready]').waitFor();
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
};
const tree = () => page.getByRole('tree', { name: 'Standard folders' });
const folder = (name: RegExp) => tree().getByRole('treeitem', { name });
const rows = () => page.getByRole('grid', { name: 'Files that are sorted' });
const sheet = () => page.getByLabel('Plan sheet', { exact: true });
const runButton = () => page.locator('[data-run-plan]');
const drive = (name: string) => join(demo.folder, 'bay/plugged', name);
const pick = async (field: string, option: RegExp) => {
  await page.getByRole('textbox', { name: field, exact: true }).click();
  await page.getByRole('option', { name: option }).click();
};

test('the plan follows: scope, folders, names; both ways of doing it with the room they take', async () => {
  await go();
  await expect(sheet()).toContainText('Choose the shelf the new files go to');
  await pick('Destination shelf', /STUDIO-RAID/);
  await expect(sheet()).toContainText('go to their place');
  await expect(page.getByRole('radio', { name: /Move · [\d.,]+ MB more room/ })).toBeChecked();
  await expect(folder(/Sound/).first()).toContainText('MB');
  await expect(sheet()).toContainText('SOUND-CART is not plugged in');
  // The flow leads to what it shows, and its words tell it to those who cannot see it.
  await expect(page.getByRole('img', { name: /Where everything goes: FOUNDRY-A/ })).toBeVisible();
  await folder(/Stills/).click();
  await expect(rows()).toContainText('still_workshop_02.jpg');
  await expect(rows()).not.toContainText('A002_C001.mov');
  await page.goBack();
  await expect(rows()).toContainText('drone_004.mp4');

  await pick('Names', /After a pattern/);
  await page.getByRole('textbox', { name: 'Pattern of the names' }).fill('{reel|loose}_{n:3}');
  await expect(rows()).toContainText('A002_001.mov');
  await expect(rows().locator('mark').filter({ hasText: '001' }).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Pattern of the names' }).fill('{rell}');
  await expect(page.getByText('There is no token {rell}').first()).toBeVisible();
  await expect(runButton()).toBeDisabled();
  await pick('Names', /Keep the name/);
  await pick('Into which folders', /After the bins/);
  await expect(folder(/Interviews/)).toBeVisible();
  await pick('Into which folders', /By the scheme/);
  await expect(folder(/Interviews/)).toHaveCount(0);
});

test('cards are known by rules that can be seen and added', async () => {
  await go();
  await page.locator('.more-choices summary').click();
  await page.getByRole('button', { name: 'How camera cards are known' }).click();
  const dialog = page.getByRole('dialog', { name: 'How camera cards are known' });
  await expect(dialog.getByRole('row').filter({ hasText: 'DCIM/###?????' })).toContainText('1 card here');
  await dialog.getByRole('textbox', { name: 'Folders' }).fill('**');
  await dialog.getByRole('textbox', { name: 'What it is' }).fill('Rushes of a day');
  await dialog.getByRole('button', { name: 'Add this rule' }).click();
  await expect(dialog).toContainText('at least one of them needs letters');
  await dialog.getByRole('textbox', { name: 'Folders' }).fill('Day ? rushes');
  await page.keyboard.press('Enter');
  const own = dialog.getByRole('row').filter({ hasText: 'Day ? rushes' });
  await expect(own).toContainText('1 card here');
  await own.getByRole('button', { name: 'Remove the rule Day ? rushes' }).click();
  await expect(own).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await page.locator('.more-choices summary').click();
});

test('rows are moved by hand, with the keyboard too, and stay an exception', async () => {
  await go();
  await page.getByRole('textbox', { name: 'Find a file' }).fill('title_opening');
  await expect(rows()).not.toContainText('drone_004.mp4');
  const grip = rows()
    .getByRole('button', { name: /title_opening.mov/ })
    .first();
  await grip.focus();
  await page.keyboard.press('Space');
  const said = page.locator('[aria-live]').filter({ hasText: 'title_opening.mov' });
  await expect(said).toContainText('in hand');
  // From below: the folder of the rest, then the last of the standard ones.
  await page.keyboard.press('ArrowUp');
  await expect(said).toContainText('over To sort');
  await page.keyboard.press('ArrowUp');
  await expect(said).toContainText('over Exports');
  await page.keyboard.press('Space');
  await expect(rows()).toContainText('by hand');
  await expect(rows()).toContainText('Exports');
  await page.reload();
  await expect(rows()).toContainText('by hand');
  await rows()
    .getByRole('checkbox', { name: /Tick title_opening/ })
    .click();
  await page.getByRole('button', { name: /With 1 ticked/ }).click();
  await page.getByRole('menuitem', { name: 'where its rule says' }).click();
  await expect(rows()).not.toContainText('by hand');
  // A folder that is to stay whole, and is taken apart again.
  await rows()
    .getByRole('checkbox', { name: /Tick title_opening/ })
    .click();
  await page.getByRole('button', { name: /With 1 ticked/ }).click();
  await page.getByRole('menuitem', { name: 'Keep their folders whole' }).click();
  await page.getByRole('textbox', { name: 'Find a file' }).fill('Graphics');
  await expect(rows()).toContainText('folder, 2 files');
  await rows().getByRole('checkbox', { name: 'Tick Graphics' }).click();
  await page.getByRole('button', { name: /With 1 ticked/ }).click();
  await page.getByRole('menuitem', { name: 'Take the folders apart again' }).click();
  await expect(rows()).not.toContainText('folder, 2 files');
});

test('clips that were ticked in the bins are what is sorted', async () => {
  await page.goto(`${demo.address}p/${project}/timelines?view=bins`);
  await page.locator('[data-ready]').waitFor();
  const clips = page.getByRole('grid', { name: 'Clips' });
  await clips
    .getByRole('checkbox', { name: /Tick The founder/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'More for these clips' }).click();
  await page.getByRole('menuitem', { name: /Sort 1 ticked clip/ }).click();
  await page.waitForURL('**/sort');
  await expect(page.getByRole('textbox', { name: 'What is sorted' })).toHaveValue('1 chosen clip');
  await pick('What is sorted', /All of the project/);
  await expect(rows()).toContainText('drone_004.mp4');
});

test('a scheme is duplicated, changed live, saved, kept as a file and brought in again', async () => {
  await go();
  await page.getByRole('button', { name: 'More for this scheme' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the scheme' })).toHaveValue('Documentary of the house');
  await folder(/^Exports/).click();
  await page.getByRole('textbox', { name: 'Name of the folder' }).fill('Drone {day}');
  await pick('What it takes', /fits all of this/);
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('drone*');
  await page.keyboard.press('Enter');
  // It stands behind Pictures, which takes all video: the sheet says so, and moving it up mends it.
  await expect(sheet()).toContainText('gets nothing');
  for (let index = 0; index < 4; index++) await page.getByRole('button', { name: 'Before the one above' }).click();
  await expect(folder(/Drone \{day\}/)).toContainText('1');
  await expect(rows()).toContainText('drone_004.mp4');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toHaveCount(0);
  const schemes = await ask<{ scheme: { id: string; name: string; folders: { name: string }[] }; isOwn: boolean }[]>('schemes');
  const own = schemes.find(({ isOwn }) => isOwn)!.scheme;
  expect(own.folders[0]!.name).toBe('Drone {day}');
  await page.getByRole('button', { name: 'More for this scheme' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'Save as a file' }).click()]);
  expect(download.suggestedFilename()).toBe('Documentary of the house.scheme.json');
  const file = await download.path();
  await page.getByRole('button', { name: 'More for this scheme' }).click();
  const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('menuitem', { name: 'Bring in from a file' }).click()]);
  await chooser.setFiles(file);
  await expect.poll(async () => (await ask<unknown[]>('schemes')).length).toBe(schemes.length + 1);
  await page.reload();
  await pick('Scheme', /^Documentary$/);
});

test('the plan is kept as a page and a table; then it runs, everything stays present, and the undo puts it back', async () => {
  await go();
  await pick('Destination shelf', /STUDIO-RAID/);
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Keep as a table' }).click()]);
  expect(download.suggestedFilename()).toBe('Sort plan.csv');
  const before = Object.fromEntries(['FOUNDRY-A', 'FOUNDRY-B', 'STUDIO-RAID'].map((name) => [name, filesBelow(drive(name))]));
  const head = () => ask<{ states: Record<string, number> }>(`projects/${project}`);
  const { states } = await head();
  await expect(page.locator('#why-not')).toHaveText('');
  await expect(runButton()).toHaveText(/Move \d+ files/);
  await runButton().click();
  await expect(sheet()).toContainText('Receipt', { timeout: 60_000 });
  const { rows: runs } = await ask<{ rows: { id: number }[] }>(`runs?project=${project}`);
  const sorted = await ask<{ state: string; troubled: { message: string }[] }>(`runs/${runs[0]!.id}?wait=end`);
  expect([sorted.state, ...sorted.troubled.map(({ message }) => message)]).toEqual(['done']);
  expect((await head()).states).toEqual(states);
  expect(filesBelow(drive('STUDIO-RAID'))).toContain('Bronze Hour/Pictures/2026-03-15/A002/A002_C001.mov');
  await go('?view=trees');
  await expect(page.getByRole('tree', { name: 'Folders now' })).toContainText('Bronze Hour');

  const request = { kind: 'undo', projectId: project, settings: { runId: runs[0]!.id } };
  const { digest } = await ask<{ digest: string }>('plans', request);
  const { id } = await ask<{ id: number }>('runs', { ...request, digest });
  const ended = await ask<{ state: string; failed: number }>(`runs/${id}?wait=end`);
  expect([ended.state, ended.failed]).toEqual(['done', 0]);
  for (const [name, files] of Object.entries(before)) expect(filesBelow(drive(name)), name).toEqual(files);
  expect((await head()).states).toEqual(states);
  expect(await shelfId(ask, 'STUDIO-RAID')).toBeTruthy();
});

test('a project starts tidy: a card is copied to two shelves and its clips stand in bins; only the folders where there is nothing yet', async () => {
  await page.goto(demo.address);
  await page.locator('[data-ready]').waitFor();
  await page.getByRole('button', { name: 'New project' }).click();
  const dialog = page.getByRole('dialog', { name: 'New project' });
  await dialog.getByLabel('Name').fill('Bell Tower');
  await dialog.getByRole('textbox', { name: 'Begin with' }).click();
  await page.getByRole('option', { name: 'Standard folders: Series' }).click();
  await dialog.getByRole('button', { name: 'Make the project' }).click();
  await page.waitForURL('**/sort');
  await expect(page.getByRole('radio', { name: /^Copy/ })).toBeChecked();

  await page.getByRole('button', { name: 'Only make the folders' }).click();
  await pick('Destination shelf', /TRAVEL-SSD/);
  await expect(runButton()).toHaveText(/Make \d+ folders/);

  await pick('What is sorted', /A shelf or a folder/);
  await pick('Which shelf or folder', /FOUNDRY-B/);
  await pick('Second copy', /STUDIO-RAID/);
  await expect(sheet()).toContainText('Become clips in bins');
  await expect(runButton()).toHaveText('Copy 6 files');
  await runButton().click();
  await expect(sheet()).toContainText('Receipt', { timeout: 60_000 });
  const projects = await ask<{ id: string; name: string }[]>('projects');
  const { id } = projects.find(({ name }) => name === 'Bell Tower')!;
  const { rows: runs } = await ask<{ rows: { id: number }[] }>(`runs?project=${id}`);
  expect((await ask<{ state: string }>(`runs/${runs[0]!.id}?wait=end`)).state).toBe('done');
  const copied = (name: string) => filesBelow(drive(name)).filter((path) => path.startsWith('Bell Tower/'));
  expect(copied('TRAVEL-SSD')).toHaveLength(6);
  expect(copied('STUDIO-RAID')).toEqual(copied('TRAVEL-SSD'));
  // The same card again: nothing to do.
  await sheet().getByRole('button', { name: 'Back to the plan' }).click();
  await expect(sheet()).toContainText('copied here before');
  await expect(runButton()).toBeDisabled();
  await page.goto(`${demo.address}p/${id}/timelines?view=bins`);
  await expect(page.getByRole('tree', { name: 'Bins' }).getByRole('treeitem', { name: /CARD-D07/ })).toBeVisible();
});
