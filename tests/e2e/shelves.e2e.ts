/** Shelves: may a card be formatted, what a drive is, and the first minute of an empty house. */
import { cpSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { asker, shelfId, type Ask } from '../helpers/ask';
import { wavBytes } from '../helpers/trust-house';
import { startDemo, type DemoServer } from '../helpers/demo-server';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let page: Page;
let ask: Ask;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ask = asker(demo);
  project = (await ask<{ id: string; name: string }[]>('projects')).find(({ name }) => name === 'Bronze Hour')!.id;
  page = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const card = (name: string) => page.getByRole('group', { name, exact: true });
const sheet = () => page.getByRole('complementary', { name: 'Plan sheet' });
const more = async (name: string, item: string) => {
  await card(name)
    .getByRole('button', { name: `More for ${name}` })
    .click();
  await page.getByRole('menuitem', { name: item }).click();
};
const lookAt = async (name: string) => {
  const id = await shelfId(ask, name);
  await ask(`shelves/${id}/stocktake`, {});
  await ask(`shelves/${id}/stocktake?wait=end`);
};
const isFair = async () => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html)])).toEqual([]);
};

test('a card is checked before it is formatted: looked at again, read, told on a receipt', async () => {
  for (const drive of ['TRAVEL-SSD', 'STUDIO-RAID'])
    for (const folder of ['Day 1 camera originals', 'Day 2 rushes', 'Interview'])
      cpSync(join(demo.drive('FOUNDRY-A'), folder), join(demo.drive(drive), 'Card', folder), { recursive: true, preserveTimestamps: true });
  await lookAt('TRAVEL-SSD');
  await lookAt('STUDIO-RAID');
  await page.goto(`${demo.address}p/${project}/shelves`);
  await more('FOUNDRY-A', 'Check before formatting');
  // The copy of the demo has other inodes than the last stocktake saw.
  await expect(sheet()).toContainText('13 files are not as the last stocktake saw them');
  await expect(sheet().getByRole('button', { name: /receipt|Read \d+ files/ })).toBeDisabled();
  await sheet().getByRole('button', { name: 'Look for changes on FOUNDRY-A' }).click();
  await expect(sheet()).toContainText('13 files have a copy that was not compared in full yet', { timeout: 60_000 });
  await isFair();
  await sheet().getByRole('button', { name: 'Read 39 files and compare' }).click();
  await expect(sheet()).toContainText('All 13 files of FOUNDRY-A are verified on at least 2 other drives: STUDIO-RAID, TRAVEL-SSD.', {
    timeout: 60_000,
  });
  await expect(page.getByRole('grid', { name: 'Files and their copies' })).toContainText('on 2 drives');
  await sheet().getByRole('button', { name: 'Back to the plan' }).click();
  await expect(sheet()).toContainText('13 of 13 files verified on 2 other drives');
  await sheet().getByRole('textbox', { name: 'Copies wanted' }).click();
  await page.getByRole('option', { name: 'Copies on 3 other drives' }).click();
  await expect(sheet()).toContainText('13 files are verified on 1 or 2 other drives only');
  await page.getByRole('button', { name: 'Back to shelves' }).click();
  await expect(card('FOUNDRY-A')).toBeVisible();
});

test('a drive gets a kind and a record; a card is not written to', async () => {
  await more('FOUNDRY-B', 'Edit');
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: 'Camera card' }).click();
  await dialog.getByRole('textbox', { name: 'Owner or client' }).fill('Founder');
  await isFair();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(card('FOUNDRY-B')).toContainText('Camera card · Founder');
  // What a stage would move from there stays, with the reason.
  await page.goto(`${demo.address}p/${project}/sort`);
  await page.getByRole('textbox', { name: 'Destination shelf', exact: true }).click();
  await page.getByRole('option', { name: /STUDIO-RAID/ }).click();
  await expect(page.getByText('FOUNDRY-B is a camera card: copy in place of moving').first()).toBeAttached();
});

test('what no project reads is listed with its size; a file says who reads it', async () => {
  writeFileSync(join(demo.drive('STUDIO-RAID'), 'leftover.wav'), wavBytes(48_000, [], 9));
  await lookAt('STUDIO-RAID');
  await page.goto(`${demo.address}p/${project}/shelves`);
  await card('STUDIO-RAID').getByRole('button', { name: 'STUDIO-RAID', exact: true }).click();
  await page.getByRole('textbox', { name: 'Files listed' }).click();
  // Neither what clips read, nor what they miss under this or another name.
  await page.getByRole('option', { name: 'In no project here · 1 file, 96.0 kB' }).click();
  const items = page.getByRole('grid', { name: 'Items' });
  await expect(items).toContainText('leftover.wav');
  await page.getByRole('textbox', { name: 'Files listed' }).click();
  await page.getByRole('option', { name: /^Duplicates · 13 files/ }).click();
  await expect(items).toContainText('A001_C001.mov');
  await page.getByRole('textbox', { name: 'Filter items' }).fill('A002_C003');
  // The row comes to the top when the filter is answered; a double click does not follow it.
  await expect(items).not.toContainText('A001_C001.mov');
  await items.getByText('A002_C003.mov').dblclick();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Bronze Hour: ');
  await expect(dialog).toContainText('FOUNDRY-A');
  await page.keyboard.press('Escape');
});

test('an empty house: its drives are seen, added by one press and read; then it says what to begin with', async () => {
  for (const { id } of await ask<{ id: string }[]>('shelves')) await ask(`shelves/${id}`, undefined, 'DELETE');
  for (const { id } of await ask<{ id: string }[]>('projects')) await ask(`projects/${id}`, undefined, 'DELETE');
  await page.goto(demo.address);
  const places = page.getByRole('list', { name: 'Drives and folders with media' });
  await expect(places.getByRole('checkbox')).toHaveCount(5);
  await isFair();
  await places.getByRole('checkbox', { name: 'TOWER-CARDS' }).click();
  await page.getByRole('button', { name: 'Add 4 places and read what is there' }).click();
  const added = page.getByRole('list', { name: 'Added' });
  await expect(added.getByRole('listitem')).toHaveCount(4);
  await expect(added.getByRole('listitem').filter({ hasText: 'FOUNDRY-A' })).toContainText('13 files, 89.1 MB', { timeout: 60_000 });
  await expect(places.getByRole('checkbox')).toHaveCount(1);
  await page.getByRole('button', { name: 'Start from a camera card' }).click();
  await expect(page.getByRole('dialog')).toContainText('Cards and files are copied into these folders and checked');
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Open a crate' }).click();
  await expect(page.getByRole('heading', { name: 'Open a crate' })).toBeVisible();
  await page.getByRole('button', { name: 'TRAVEL-SSD' }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
});
