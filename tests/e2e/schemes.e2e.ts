/** Schemes that are changed by several hands: nothing typed is lost, nothing is replaced unseen, every change can be taken back. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import type { Ask } from '../helpers/ask';
import { openDemo, type DemoPage } from '../helpers/demo-page';

test.describe.configure({ mode: 'serial' });

interface Saved {
  readonly scheme: { readonly id: string; readonly name: string; readonly folders: readonly { readonly name: string }[] };
  readonly isOwn: boolean;
  readonly revision: number;
}

let opened: DemoPage;
let ask: Ask;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  opened = await openDemo(browser);
  ({ ask, page, project } = opened);
});
test.afterAll(() => opened.close());

const go = async (own = page, query = '') => {
  await own.goto(`${opened.demo.address}p/${project}/sort${query}`);
  await own.locator('[data-ready]').waitFor();
};
const more = async (item: string, own = page) => {
  await own.getByRole('button', { name: 'More for this scheme' }).click();
  await own.getByRole('menuitem', { name: item, exact: true }).click();
};
const folder = (name: RegExp, own = page) => own.getByRole('tree', { name: 'Standard folders' }).getByRole('treeitem', { name });
const folderName = (own = page) => own.getByRole('textbox', { name: 'Name of the folder', exact: true });
const button = (name: string, own = page) => own.getByRole('button', { name, exact: true });
const saved = async () => (await ask<Saved[]>('schemes')).filter(({ isOwn }) => isOwn);
const named = async (id: string) => (await saved()).find(({ scheme }) => scheme.id === id)!;
const schemeSelect = (own = page) => own.getByRole('textbox', { name: 'Scheme', exact: true });

let id = '';

test('what is typed while it saves is not lost', async () => {
  await go();
  await more('Duplicate');
  await folder(/^Exports/).click();
  await folderName().fill('Out');
  [
    {
      scheme: { id },
    },
  ] = (await saved()) as [Saved];
  let open = () => {};
  const gate = new Promise<void>((resolve) => (open = resolve));
  await page.route('**/api/schemes/*', async (route) => (await gate, route.continue()));
  await button('Save').click();
  await folderName().fill('Out again');
  open();
  await expect.poll(async () => (await named(id)).revision).toBe(2);
  await page.unroute('**/api/schemes/*');
  await expect(folderName()).toHaveValue('Out again');
  await button('Save').click();
  await expect(button('Save')).toHaveCount(0);
  expect((await named(id)).scheme.folders.map(({ name }) => name)).toContain('Out again');
});

test('a folder with folders is asked for; every change can be taken back, by key too', async () => {
  await folder(/^Sound/)
    .first()
    .click();
  await button('Remove').click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText(/Remove "Sound" with the \d folders? in it/);
  await button('Keep them').click();
  await expect(folder(/^Sound/)).not.toHaveCount(0);
  await button('Remove').click();
  await dialog.getByRole('button', { name: /^Remove \d folders/ }).click();
  await expect(folder(/^Sound/)).toHaveCount(0);
  await button('Undo').click();
  await expect(folder(/^Sound/)).not.toHaveCount(0);
  await expect(button('Save')).toHaveCount(0);
  await page.locator('main').press('Control+Shift+z');
  await expect(folder(/^Sound/)).toHaveCount(0);
  await page.locator('main').press('Control+z');
  await expect(folder(/^Sound/)).not.toHaveCount(0);
});

test('names that name no folder are told beside the field', async () => {
  await folder(/^Out again/).click();
  for (const [name, words] of [
    ['..', 'stands for another folder'],
    ['a/b', 'holds no slash'],
  ] as const) {
    await folderName().fill(name);
    await expect(folderName()).toHaveAttribute('aria-invalid', 'true');
    await expect(page.locator('.folder-editor')).toContainText(words);
  }
  await folderName().fill('Out');
  await expect(folderName()).not.toHaveAttribute('aria-invalid', 'true');
});

test('choosing another scheme keeps what is not saved, over a reload too', async () => {
  await expect(button('Save')).toBeVisible();
  await more('Done changing it');
  await schemeSelect().click();
  await page.getByRole('option', { name: 'Documentary', exact: true }).click();
  await expect(button('Save')).toHaveCount(0);
  await page.reload();
  await schemeSelect().click();
  await page.getByRole('option', { name: 'Documentary of the house · not saved' }).click();
  await expect(folder(/^Out(?! again)/)).toHaveCount(1);
  await expect(button('Save')).toBeVisible();
});

test('who began from an older state sees both side by side, and saves over nothing unseen', async ({ browser }) => {
  const other = await browser.newPage();
  const { scheme, revision } = await named(id);
  await ask(`schemes/${id}`, { name: scheme.name, about: '', rest: 'Later', folders: scheme.folders.slice(1), revision }, 'PUT');
  await expect(page.getByRole('status').filter({ hasText: 'saved elsewhere' })).toBeVisible();
  await button('Save').click();
  const dialog = page.getByRole('dialog', { name: /was saved elsewhere meanwhile/ });
  await expect(dialog).toContainText('Later');
  await expect(dialog).toContainText('not there');
  expect((await named(id)).revision).toBe(revision + 1);
  await button('Decide later').click();
  await expect(folder(/^Out(?! again)/)).toHaveCount(1);
  await button('Look at both').click();
  await button('Keep mine as another scheme').click();
  await expect(dialog).toHaveCount(0);
  await expect
    .poll(async () => (await saved()).map(({ scheme: { name } }) => name).sort())
    .toEqual(['Documentary of the house', 'Documentary of the house (mine)']);
  expect((await named(id)).scheme.folders).toHaveLength(scheme.folders.length - 1);
  // The other hand is asked as well, and may take the saved one; that is taken back too.
  await go(other);
  await other.close();
});

test('a removal that fails keeps its dialog and its scheme; one that is done can be taken back', async () => {
  const count = (await saved()).length;
  await expect(schemeSelect()).toHaveValue('Documentary of the house (mine)');
  await page.route('**/api/schemes/*', (route) => route.fulfill({ status: 503, json: { detail: 'The catalogue is held.' } }));
  await more('Remove');
  await button('Remove the scheme').click();
  await expect(page.getByRole('alert').filter({ hasText: 'The catalogue is held.' })).toBeVisible();
  await expect(page.getByRole('dialog')).toContainText('Remove "Documentary of the house (mine)"?');
  await page.unroute('**/api/schemes/*');
  await button('Remove the scheme').click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect.poll(async () => (await saved()).length).toBe(count - 1);
  await button('Undo').click();
  await expect.poll(async () => (await saved()).length).toBe(count);
  await expect(schemeSelect()).toHaveValue('Documentary of the house (mine)');
});

test('a broken file is told by its name, and is read when it is mended and chosen again', async () => {
  const file = join(opened.demo.folder, 'standard.scheme.json');
  const count = (await saved()).length;
  const bring = async () => {
    await page.getByRole('button', { name: 'More for this scheme' }).click();
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('menuitem', { name: 'Bring in from a file' }).click()]);
    await chooser.setFiles(file);
  };
  writeFileSync(file, '{"format": "mill-shelf-scheme", ');
  await bring();
  await expect(page.getByRole('alert').filter({ hasText: '"standard.scheme.json" cannot be read as a scheme' })).toBeVisible();
  writeFileSync(file, JSON.stringify({ format: 'mill-shelf-scheme', version: 1, name: 'Mended', about: '', folders: [], rest: 'To sort' }));
  await bring();
  await expect(schemeSelect()).toHaveValue('Mended');
  expect(await saved()).toHaveLength(count + 1);
});

test('an address of a folder that is gone says so', async () => {
  await go(page, '?folder=nope');
  await expect(page.getByRole('status').filter({ hasText: 'The folder of this address is not there any more' })).toBeVisible();
  await button('All right').click();
  await expect(page).not.toHaveURL(/nope/);
});
