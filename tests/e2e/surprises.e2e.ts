/** A hand is never surprised: keys undo what they should, the keyboard stays where it was, and what changes elsewhere is seen. */
import { renameSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { asker } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  const [first] = await asker(demo)<{ id: string }[]>('projects');
  project = first!.id;
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const go = async (stage: string) => {
  await page.goto(`${demo.address}p/${project}/${stage}`);
  await page.locator('[data-ready]').waitFor();
};
const hasKeyboard = () => page.evaluate(() => document.activeElement !== document.body);

test('Escape undoes what is being typed; Enter and leaving keep it', async () => {
  await go('timelines?view=bins');
  const bin = (name: string) => page.getByRole('treeitem', { name });
  const begin = async (name: string) => {
    await page.getByRole('button', { name: 'New bin' }).click();
    await page.keyboard.type(name);
  };
  await begin('Not this');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('textbox', { name: 'Name of the new bin' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'New bin' })).toBeFocused();
  await begin('By leaving');
  await page.getByRole('textbox', { name: 'Find a clip' }).click();
  await expect(bin('By leaving')).toHaveCount(1);
  await expect(bin('Not this')).toHaveCount(0);
  // The same in the sheet: the clip keeps its name, and the sheet stays.
  await page.getByRole('grid', { name: 'Clips' }).getByRole('row').nth(1).click();
  const name = page.getByRole('textbox', { name: 'Clip', exact: true });
  const kept = await name.inputValue();
  await name.fill('Another name');
  await page.keyboard.press('Escape');
  await expect(name).toHaveValue(kept);
  await name.fill('By Enter');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('grid', { name: 'Clips' })).toContainText('By Enter');
  const note = page.getByRole('textbox', { name: 'Note' });
  await note.fill('a word');
  await page.keyboard.press('Escape');
  await expect(note).toHaveValue('');
});

test('name rules: Escape closes them as they were', async () => {
  await go('relink');
  await page.getByRole('button', { name: 'Name rules' }).click();
  const rules = page.getByRole('textbox', { name: 'Added to file names' });
  const kept = await rules.inputValue();
  await rules.fill('-nothing');
  await page.keyboard.press('Escape');
  await expect(rules).toHaveCount(0);
  await page.getByRole('button', { name: 'Name rules' }).click();
  await expect(rules).toHaveValue(kept);
  await page.keyboard.press('Escape');
});

test('a drive that comes or goes by hand is seen while nobody does anything', async () => {
  await go('shelves');
  const shelf = page.getByRole('group', { name: 'TRAVEL-SSD' });
  const sign = shelf.getByRole('img', { name: 'unplugged' }).or(shelf.getByTitle('unplugged'));
  await expect(sign).toHaveCount(0);
  const [plugged, away] = [join(demo.folder, 'bay/plugged/TRAVEL-SSD'), join(demo.folder, 'bay/TRAVEL-SSD by hand')];
  renameSync(plugged, away);
  await expect(sign.first()).toBeVisible({ timeout: 4_000 });
  renameSync(away, plugged);
  await expect(sign).toHaveCount(0, { timeout: 4_000 });
});

test('figures that wait look as if they wait, and the keyboard stays beside a control that goes', async () => {
  await go('proxies');
  await page.getByRole('textbox', { name: 'Shelves left behind' }).click();
  await page.getByRole('option', { name: 'STUDIO-RAID' }).click();
  await page.keyboard.press('Escape');
  const tried = page.locator('.tried .of-plan');
  await expect(tried).toBeVisible();
  await expect(tried).toHaveCSS('opacity', '1');
  await page.route('**/api/plans', async (route) => {
    await new Promise((done) => setTimeout(done, 2_500));
    await route.continue();
  });
  await page.getByRole('textbox', { name: 'Size of the picture' }).click();
  await page.getByRole('option', { name: 'A third' }).click();
  await expect(tried).not.toHaveCSS('opacity', '1', { timeout: 2_000 });
  await expect(tried).toHaveCSS('opacity', '1', { timeout: 6_000 });
  await page.unroute('**/api/plans');
  // The line at which reading stops is moved, and taken back by a button that goes with it.
  await page.getByRole('button', { name: /^The line at which reading stops/ }).focus();
  await page.keyboard.press('Alt+ArrowLeft');
  const before = page.getByRole('button', { name: 'As before' });
  await before.focus();
  await page.keyboard.press('Enter');
  await expect(before).toHaveCount(0);
  await expect.poll(hasKeyboard).toBe(true);
});
