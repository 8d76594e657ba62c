/** The whole job without a pointer: from the list of projects to an opened crate, by keys alone. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { startDemo, type DemoServer } from '../helpers/demo-server';

let demo: DemoServer;
let page: Page;

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  page = await browser.newPage();
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const isInHand = (what: Locator) => what.evaluateAll((nodes) => nodes.some((node) => node === document.activeElement));
/** Tab by tab, as far as a patient person would go. */
async function tabTo(what: Locator, key = 'Tab', most = 60): Promise<void> {
  for (let index = 0; index < most; index++) {
    if (await isInHand(what)) return;
    await page.keyboard.press(key);
  }
  throw new Error(`Not reached by ${most} × ${key}: ${String(what)}`);
}
const press = (...keys: string[]) => keys.reduce((before, key) => before.then(() => page.keyboard.press(key)), Promise.resolve());
const grid = (name: string) => page.getByRole('grid', { name, exact: true });
const settled = async () => {
  await page.locator('[data-ready]').waitFor();
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
};

/** Chooses an entry of a list below a field by its first letters. */
async function choose(field: Locator, entry: RegExp): Promise<void> {
  await tabTo(field);
  await press('Enter');
  await expect(page.getByRole('option').first()).toBeVisible();
  for (let index = 0; index < 20; index++) {
    const now = page.locator('[role=option][data-combobox-selected]');
    if ((await now.count()) > 0 && entry.test(await now.first().innerText())) break;
    await press('ArrowDown');
  }
  await press('Enter');
}

async function runPlan(): Promise<void> {
  const button = page.locator('[data-run-plan]');
  await expect(button).toBeEnabled();
  await press('p');
  await expect(button).toBeFocused();
  await press('Enter');
  await expect(page.locator('[data-run-state=done]')).toBeVisible({ timeout: 60_000 });
}

test('from Projects to an opened crate', async () => {
  // Nothing but keys: a pointer would be noticed.
  await page.goto(demo.address);
  await page.locator('[data-ready]').waitFor();
  await page.evaluate(() => window.addEventListener('pointerdown', () => (document.title = 'A pointer was used'), true));
  await press('l', 'ArrowDown', 'Enter');
  await page.waitForURL('**/overview');
  await page.locator('[data-ready]').waitFor();

  // Shelves: a file is looked at.
  await press('1');
  await page.waitForURL('**/shelves');
  await settled();
  await press('l', 'ArrowDown', 'Enter');
  await expect(page.getByRole('dialog')).toBeVisible();
  await press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(grid('Items')).toBeFocused();

  // Relink: every clip of a reason, its evidence and its matches; then the sheet.
  await press('3');
  await page.waitForURL('**/relink');
  await settled();
  const clips = grid('Clips of this reason');
  const first = page.locator('.reason .top').first();
  await tabTo(first);
  await tabTo(clips);
  const seen: string[] = [];
  for (let index = 0; index < 6; index++) {
    if (index > 0) await press('ArrowDown');
    seen.push(await page.locator('.evidence th').first().innerText());
  }
  expect(new Set(seen).size).toBe(6);
  // Space leaves the clip in hand, and takes it again.
  await press(' ');
  await expect(clips.locator('.sel input')).not.toBeChecked();
  await settled();
  await press(' ');
  await expect(clips.locator('.sel input')).toBeChecked();
  // The next reasons open by Enter and by Space.
  const reasons = page.locator('.reason .top');
  for (const [index, key] of [
    [1, 'Enter'],
    [2, ' '],
  ] as const) {
    await tabTo(reasons.nth(index));
    await press(key);
    await expect(reasons.nth(index)).toHaveAttribute('aria-expanded', 'true');
    await expect(reasons.nth(index)).toBeFocused();
  }
  await runPlan();

  // Timelines: the largest is walked, a clip is put into another bin by its menu.
  await press('t');
  await page.waitForURL('**/timelines');
  await settled();
  await tabTo(page.getByRole('radiogroup', { name: 'View' }).getByRole('radio'));
  await press('ArrowRight', 'ArrowRight');
  await expect(page).toHaveURL(/view=bins/);
  await settled();
  await tabTo(grid('Clips'));
  await press('Home', ' ');
  await tabTo(page.getByRole('button', { name: /^Move 1 to/ }), 'Shift+Tab');
  await press('Enter');
  await expect(page.getByRole('menuitem').first()).toBeVisible();
  while (!(await isInHand(page.getByRole('menuitem', { name: 'Not used yet' })))) await press('ArrowDown');
  await press('Enter');
  await expect(page.getByRole('treeitem', { name: /Not used yet/ })).toContainText('3');

  // Pull: where to, handles, and the sheet.
  await page.waitForTimeout(1100);
  await press('4');
  await page.waitForURL('**/pull');
  await settled();
  await tabTo(page.getByRole('textbox', { name: 'Head' }));
  await page.keyboard.press('Control+a');
  await page.keyboard.type('12');
  await choose(page.getByRole('textbox', { name: 'Destination shelf' }), /TRAVEL-SSD/);
  await expect(page.locator('[data-run-plan]')).toBeEnabled();
  await page.waitForTimeout(1100);
  await tabTo(page.locator('[data-run-plan]'));
  await runPlan();

  // Crates: made, then opened as a project of its own.
  await press('6');
  await page.waitForURL('**/crates');
  await settled();
  await choose(page.getByRole('textbox', { name: 'Destination shelf' }), /TRAVEL-SSD/);
  await tabTo(page.getByRole('textbox', { name: 'Name of the crate' }));
  await page.keyboard.press('Control+a');
  await page.keyboard.type('By hand');
  await page.waitForTimeout(1100);
  await tabTo(page.locator('[data-run-plan]'));
  await runPlan();
  expect(existsSync(join(demo.drive('TRAVEL-SSD'), 'By hand/bagit.txt'))).toBe(true);
  await tabTo(page.getByRole('radiogroup', { name: 'What to do with crates' }).getByRole('radio'), 'Shift+Tab', 90);
  await press('ArrowRight', 'ArrowRight');
  await expect(page).toHaveURL(/view=open/);
  await tabTo(page.getByRole('button', { name: 'TRAVEL-SSD' }));
  await press('Enter');
  const tree = page.getByRole('dialog').getByRole('tree');
  await tabTo(tree.getByRole('treeitem'));
  await press('Home');
  // One step, then a look: the hand follows the key a moment later.
  for (let index = 0; index < 20 && !(await isInHand(tree.getByRole('treeitem', { name: /By hand/ }))); index++) {
    await press('ArrowDown');
    await page.waitForTimeout(120);
  }
  await tabTo(page.getByRole('button', { name: 'Take this folder' }));
  await press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await runPlan();
  await tabTo(page.getByRole('link', { name: 'Go to the new project' }), 'Shift+Tab', 90);
  await press('Enter');
  await page.waitForURL('**/overview');
  // What was not in the crate is missing; everything else is there.
  await expect(page.locator('h1')).toHaveText('5 of 18 clips need attention');
  await expect(page.locator('.project-name')).toContainText('Bronze Hour');
  expect(await page.title()).not.toContain('pointer');
});
