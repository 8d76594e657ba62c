/** The first five minutes with other people's lists and media: a list comes in, its media is found in a folder nobody knew of. */
import { copyFileSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { startDemo, type DemoServer } from '../helpers/demo-server';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let page: Page;
let project = '';
const cards = () => join(demo.folder, 'elsewhere/TOWER-CARDS');

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  const projects = (await (await fetch(`${demo.address}api/projects`)).json()) as { id: string; name: string }[];
  project = projects.find(({ name }) => name === 'Tower unit')!.id;
  page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const open = async (stage: string) => {
  await page.goto(`${demo.address}p/${project}/${stage}`);
  await page.locator('[data-ready]').waitFor();
};
const dialog = () => page.getByRole('dialog').first();
const bringIn = async (list: string) => {
  // The page may still be drawing itself anew when it is pressed first.
  await expect(async () => {
    if ((await dialog().count()) === 0) await page.getByRole('button', { name: 'Bring in', exact: true }).click();
    await expect(page.locator('input[type=file]')).toBeAttached({ timeout: 3_000 });
  }).toPass({ timeout: 20_000 });
  await page.locator('input[type=file]').setInputFiles(join(cards(), 'Lists', list));
};
const rows = () => dialog().getByRole('list', { name: 'Clips and their files' });

test('nothing is found at first, and it says where it looked; a folder is put on the list and the count grows', async () => {
  await open('timelines');
  await bringIn('tower_cut.edl');
  await expect(dialog()).toContainText('13 clips: 0 matched, 13 with no match');
  await expect(rows()).toContainText('Looked for C0009.MP4 with any ending, on 4 shelves; 1 shelf is unplugged.');
  await expect(dialog().getByRole('checkbox')).toBeDisabled();
  await dialog().getByRole('button', { name: 'Look in another folder' }).click();
  await page.getByRole('textbox', { name: 'Folder' }).fill(cards());
  await page.getByRole('button', { name: 'Add and read it' }).click();
  await expect(dialog()).toContainText('13 clips: 9 matched on TOWER-CARDS, 1 ambiguous, 2 to compare, 1 with no match', { timeout: 60_000 });
  // The file of each card, by the reel that the list gives.
  await expect(rows().getByRole('listitem').filter({ hasText: 'CARD_T2' })).toContainText('C0001.MP4');
  await expect(rows()).toContainText('the list says reel CARD_T9');
  await expect(rows()).toContainText('(variable)');
  // What is looked at again is faded for that moment.
  await expect(page.locator('.preview:not(.fetching)')).toHaveCSS('opacity', '1');
  const { violations } = await new AxeBuilder({ page })
    .include('[role=dialog]')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.map(({ id, nodes }) => [id, nodes[0]?.html])).toEqual([]);
});

test('what is matched comes in linked, is said not to be proven, and can be taken back', async () => {
  await dialog().getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect(page.locator('.health')).toContainText('present 9');
  await expect(page.getByText('9 clips were linked by file name or by name and timecode as this came in.')).toBeVisible();
  // Picture and sound of one take, each of its own file.
  await page.getByRole('grid', { name: 'Sources' }).getByText('TAKE0003.WAV').click();
  await page.getByRole('button', { name: 'Take the links back' }).click();
  await expect(page.locator('.health')).toContainText('missing 13');
  await expect(page.getByRole('button', { name: 'Take the links back' })).toHaveCount(0);
});

test('relink has them in causes: matched ones ticked, twins side by side with pictures, and one click for the rest', async () => {
  await page.getByRole('link', { name: /Find the media of 16 offline events/ }).click();
  await page.locator('[data-ready]').waitFor();
  await expect(page.locator('.sheet')).toContainText('9 of 13 clips come back');
  await expect(page.locator('.sheet')).toContainText('Matched, not proven');
  await page.getByText('Several files match').click();
  const pictures = page.locator('.match-pictures');
  await expect(pictures.getByRole('listitem')).toHaveCount(2);
  await expect(pictures).toContainText('CARD_T1');
  await expect(pictures).toContainText('CARD_T2');
  await pictures.getByRole('button', { name: 'Take this file' }).last().click();
  await expect(page.locator('.sheet')).toContainText('10 of 13 clips come back');
  await page.locator('[data-run-plan]').click();
  await page.locator('[data-run-state=done]').waitFor({ timeout: 60_000 });
  await expect(page.locator('.health')).toContainText('present 10');
});

test('a timeline of another machine, with paths of its system, reads the same clips', async () => {
  await open('timelines');
  await bringIn('tower_teaser.otio');
  await expect(dialog()).toContainText('3 clips: 3 matched on TOWER-CARDS by file name');
  await dialog().getByRole('checkbox').uncheck();
  await dialog().getByRole('checkbox').check();
  await dialog().getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect(page.locator('.project-name')).toContainText('13 clips');
  await expect(page.locator('.health')).toContainText('present 10');
});

test('a list of 25 with sources of 23.976 and 50 says how their timecode is counted, and can be counted otherwise', async () => {
  await open('timelines');
  await bringIn('ringing.edl');
  const said = 'Source timecode of 3 events (2 sources at 23.976 and 50 fps) is counted in frames of their source. Only this count fits their media.';
  await expect(dialog()).toContainText(said);
  await dialog().getByRole('button', { name: 'Bring in', exact: true }).click();
  await expect(page.getByText(said)).toBeVisible();
  await page.getByRole('radiogroup', { name: 'List below' }).getByText('Events').click();
  await page.getByRole('grid', { name: 'Events' }).getByText('SLOW0003').click();
  const sheet = page.locator('.sheet');
  await expect(sheet).toContainText('11:00:01:25');
  await expect(sheet).toContainText('Counted in frames of the source (50).');
  const count = sheet.getByRole('textbox', { name: 'Source timecode' });
  const choose = async (words: RegExp) => {
    await count.click();
    await page.getByRole('option', { name: words }).click();
  };
  await choose(/Frames of the list/);
  await expect(sheet).toContainText('Counted in frames of the list (25); the source runs at 50.');
  await choose(/As the timeline/);
  await expect(sheet).toContainText('11:00:01:25');
});

test('a copy of a file is a copy of its clip: the clip goes on with it, and may be told where to read', async () => {
  const shelves = (await (await fetch(`${demo.address}api/shelves`)).json()) as { id: string; name: string }[];
  const { id } = shelves.find(({ name }) => name === 'TOWER-CARDS')!;
  mkdirSync(join(cards(), 'COPIES'));
  copyFileSync(join(cards(), 'ROPE_CAM/ROPE0007.MP4'), join(cards(), 'COPIES/ROPE0007.MP4'));
  await fetch(`${demo.address}api/shelves/${id}/stocktake`, { method: 'POST' });
  await open('timelines?view=bins');
  await page.getByText('ROPE0007.MP4', { exact: false }).first().click();
  const files = page.locator('.clip-files');
  await expect(files).toContainText('2 copies, equal in every byte', { timeout: 30_000 });
  await expect(files.getByRole('listitem').filter({ hasText: 'ROPE_CAM' })).toContainText('read now');
  await files.getByRole('listitem').filter({ hasText: 'COPIES' }).getByRole('button', { name: 'Read this clip from here' }).click();
  await expect(files.getByRole('listitem').filter({ hasText: 'COPIES' })).toContainText('read now');
  rmSync(join(cards(), 'COPIES/ROPE0007.MP4'));
  await fetch(`${demo.address}api/shelves/${id}/stocktake`, { method: 'POST' });
  await expect(files.getByRole('listitem').filter({ hasText: 'ROPE_CAM' })).toContainText('read now', { timeout: 30_000 });
});

test('name rules are seen and changed', async () => {
  await open('relink');
  await page.getByRole('button', { name: 'Name rules' }).click();
  const rules = page.getByRole('textbox', { name: 'Added to file names' });
  await expect(rules).toHaveValue(/ copy\n/);
  await rules.fill('.sync\n.graded');
  await rules.blur();
  await expect(page.getByRole('button', { name: 'Use the usual rules' })).toBeVisible();
  await page.getByRole('button', { name: 'Use the usual rules' }).click();
  await expect(rules).toHaveValue(/ copy\n/);
});
