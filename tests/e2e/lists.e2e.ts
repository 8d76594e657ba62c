/** Tables, trees, drags and forms by keyboard and pointer: what is acted on is what is in hand. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { asker, runPlan, shelfId, timelineId } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';
import { drag } from '../helpers/drag';

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
  const [first] = (await (await fetch(`${demo.address}api/projects`)).json()) as { id: string }[];
  project = first!.id;
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const go = async (stage: string) => {
  await page.goto(`${demo.address}p/${project}/${stage}`);
  await page.locator('.row').first().waitFor();
};
const grid = (name: string) => page.getByRole('grid', { name, exact: true });
const titles = (name: string) => grid(name).getByRole('columnheader').filter({ hasText: /\w/ });
const columnsOf = (name: string) => page.getByRole('button', { name: `Columns of ${name}` });
const inHand = async (name: string) => {
  const id = await grid(name).getAttribute('aria-activedescendant');
  return id === null ? null : page.locator(`[id="${id}"]`).innerText();
};
const ticked = () => page.locator('.row input:checked').count();

test('columns are hidden, moved, sized and sorted, parts of a list found, and all of it stays', async () => {
  await go('pull');
  await columnsOf('What is taken').click();
  await page.getByRole('checkbox', { name: 'Keeps' }).uncheck();
  await page.getByRole('button', { name: 'Move Size to the left' }).click();
  await page.keyboard.press('Escape');
  await expect(columnsOf('What is taken')).toBeFocused();
  await expect(titles('What is taken')).toHaveText(['Source ↑', 'Size', 'Kept of full length', 'How']);
  const source = titles('What is taken').first();
  const wide = (await source.boundingBox())!.width;
  const edge = (await source.locator('.edge').boundingBox())!;
  await page.mouse.move(edge.x + 3, edge.y + 5);
  await page.mouse.down();
  await page.mouse.move(edge.x - 37, edge.y + 5, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await source.boundingBox())!.width).toBeCloseTo(wide - 40, -1);
  // By keyboard: Alt moves, Alt and Shift size.
  await source.getByRole('button').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await expect(titles('What is taken')).toHaveText(['Size', 'Source ↑', 'Kept of full length', 'How']);
  await drag(page, titles('What is taken').filter({ hasText: 'How' }), titles('What is taken').filter({ hasText: 'Size' }));
  await expect(titles('What is taken')).toHaveText(['How', 'Size', 'Source ↑', 'Kept of full length']);
  await titles('What is taken').filter({ hasText: 'Size' }).getByRole('button').click();
  await titles('What is taken').filter({ hasText: 'Size' }).getByRole('button').click();
  await expect(grid('What is taken').getByRole('row').nth(1)).toContainText('pour_v003');
  await page.reload();
  await page.locator('.row').first().waitFor();
  await expect(titles('What is taken')).toHaveText(['How', 'Size ↓', 'Source', 'Kept of full length']);
  await expect(grid('What is taken').getByRole('row').nth(1)).toContainText('pour_v003');
  // Parts of the list are found by how they are taken, and by words.
  await page.getByRole('textbox', { name: 'Which sources' }).click();
  await page.getByRole('option', { name: 'Copied whole · 5' }).click();
  await expect(grid('What is taken').getByRole('row')).toHaveCount(6);
  await page.getByRole('textbox', { name: 'Find a source' }).fill('long-gop');
  await expect(grid('What is taken').getByRole('row')).toHaveCount(3);
  await page.reload();
  await expect(grid('What is taken').getByRole('row')).toHaveCount(3);
  // An address that names a part of another list shows all of this one.
  await page.goto(`${demo.address}p/${project}/pull?show=lacking`);
  await expect(page.getByRole('textbox', { name: 'Which sources' })).toHaveValue('All that is used');
  await expect(grid('What is taken').getByRole('row', { name: /pour_v003/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Which sources' }).click();
  await page.getByRole('option', { name: 'Copied whole · 5' }).click();
  await page.getByRole('textbox', { name: 'Find a source' }).fill('long-gop zither');
  await expect(page.getByText('No source is like that')).toBeVisible();
  await page.getByRole('textbox', { name: 'Find a source' }).fill('');
  await page.getByRole('textbox', { name: 'Which sources' }).click();
  await page.getByRole('option', { name: 'All that is used' }).click();
  await columnsOf('What is taken').click();
  await page.getByRole('button', { name: 'As they were' }).click();
  await page.keyboard.press('Escape');
  await expect(titles('What is taken')).toHaveText(['Source ↑', 'Kept of full length', 'Keeps', 'Size', 'How']);
  // What another version kept, or hands broke, keeps no list from being shown.
  const all = { hidden: ['name', 'bar', 'keeps', 'bytes', 'how'], order: ['how', 'gone', 'how'], sizes: {}, sort: [], group: 'gone' };
  for (const [kept, shown] of [
    ['{"hidden":[],"order":[],"sizes":null,"sort":[],"group":null}', 'Source ↑'],
    ['not JSON', 'Source ↑'],
    [JSON.stringify(all), 'How'],
  ] as const) {
    await page.evaluate((text) => localStorage.setItem('mill-shelf table What is taken', text), kept);
    await page.reload();
    await page.locator('.row').first().waitFor();
    await expect(titles('What is taken')).toHaveCount(5);
    await expect(titles('What is taken').first()).toHaveText(shown);
  }
  await page.evaluate(() => localStorage.clear());
});

test('lists that are there as a whole are put together by a column', async () => {
  await go('timelines');
  await columnsOf('Timelines').click();
  await page.getByRole('textbox', { name: 'Put together by' }).click();
  await page.getByRole('option', { name: 'rate' }).click();
  await page.keyboard.press('Escape');
  const head = grid('Timelines').getByRole('button', { name: /25 fps \d/ });
  const rows = grid('Timelines').getByRole('row');
  const count = await rows.count();
  await head.press('Enter');
  await expect(head).toHaveAttribute('aria-expanded', 'false');
  await expect.poll(() => rows.count()).toBeLessThan(count);
  await head.press('Enter');
  // Heads of groups are passed over.
  await grid('Timelines').focus();
  await page.keyboard.press('Home');
  expect(await inHand('Timelines')).not.toBeNull();
  await page.evaluate(() => localStorage.clear());
});

test('many are ticked by space and shift; keys on a control within a row are that control’s own', async () => {
  await go('timelines');
  await grid('Timelines').focus();
  await page.keyboard.press('Home');
  const first = await inHand('Timelines');
  await page.getByRole('button', { name: 'More for Old assembly' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menu')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Escape');
  expect(await inHand('Timelines')).toBe(first);
  expect(await ticked()).toBe(0);
  await page.getByRole('tab', { name: 'Events' }).or(page.getByText('Bins and clips')).first().click();
  await go('timelines?view=bins');
  const clips = grid('Clips');
  await clips.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press(' ');
  for (let step = 0; step < 3; step++) await page.keyboard.press('Shift+ArrowDown');
  await expect.poll(ticked).toBe(4);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+ ');
  await expect.poll(ticked).toBe(6);
  await page.keyboard.press('Escape');
  await expect.poll(ticked).toBe(0);
  await page.keyboard.press('Control+a');
  await expect(page.getByRole('button', { name: 'Move 27 to …' })).toBeVisible();
  await page.keyboard.press('Escape');
  const boxes = clips.getByRole('checkbox', { name: /^Tick (?!all)/ });
  await boxes.nth(1).click();
  // The list keeps the keyboard.
  await expect(clips).toBeFocused();
  await boxes.nth(3).click({ modifiers: ['Shift'] });
  await expect.poll(ticked).toBe(3);
  // What is ticked is out of sight now; nothing of what is in sight is.
  await page.getByLabel('Find a clip').fill('founder');
  await expect(clips.getByRole('row')).toHaveCount(2);
  await expect(clips.getByRole('checkbox', { name: 'Tick all of Clips' })).not.toBeChecked();
  await expect(page.getByRole('button', { name: 'Move 3 (3 not in this list) to …' })).toBeVisible();
  await page.getByLabel('Find a clip').fill('');
  await clips.focus();
  await page.keyboard.press('Escape');
});

/** One bin on at a time until it is said: the hand that has just taken hold of something may not yet hear the arrows. */
async function carry(said: RegExp): Promise<void> {
  await expect(async () => {
    await page.keyboard.press('ArrowDown');
    await expect(page.getByText(said)).toBeAttached({ timeout: 600 });
  }).toPass({ timeout: 20_000 });
}

test('what is dragged moves, by pointer and by keyboard; others that are ticked stay', async () => {
  await go('timelines?view=bins');
  const clips = grid('Clips');
  const tree = page.getByRole('tree', { name: 'Bins' });
  const inBin = (name: string) => tree.getByRole('treeitem', { name: new RegExp(name) });
  await clips.getByRole('checkbox', { name: 'Tick A001_C001' }).click();
  await clips.getByRole('checkbox', { name: 'Tick A001_C002' }).click();
  await drag(page, clips.getByText('A002_C001', { exact: true }), inBin('Interviews'));
  await expect(inBin('Interviews')).toContainText('2');
  await expect.poll(ticked).toBe(0);
  // One of the ticked takes the others along.
  await clips.getByRole('checkbox', { name: 'Tick A001_C001' }).click();
  await clips.getByRole('checkbox', { name: 'Tick A001_C002' }).click();
  await drag(page, clips.getByText('A001_C002', { exact: true }), inBin('Interviews'));
  await expect(inBin('Interviews')).toContainText('4');
  // Taken hold of with space, carried by arrows, let go with space.
  await clips.getByRole('button', { name: 'Drag A001_C003', exact: true }).focus();
  await page.keyboard.press(' ');
  await expect(page.getByText('A001_C003 is in hand. Arrows choose a bin')).toBeAttached();
  await carry(/A001_C003 over /);
  await carry(/A001_C003 over Not used yet\./);
  await page.keyboard.press(' ');
  await expect(inBin('Not used yet')).toContainText('3');
  // Escape puts it back.
  await clips.getByRole('button', { name: 'Drag A001_C004', exact: true }).focus();
  await page.keyboard.press(' ');
  await expect(page.getByText('A001_C004 is in hand.')).toBeAttached();
  await carry(/A001_C004 over /);
  await page.keyboard.press('Escape');
  await expect(page.getByText('Put back.')).toBeAttached();
  await expect(inBin('Not used yet')).toContainText('3');
});

test('the tree by keyboard: walked, closed, opened; a bin is moved into another by keyboard and by its field', async () => {
  const tree = page.getByRole('tree', { name: 'Bins' });
  const bin = (name: string) => tree.getByRole('treeitem', { name: new RegExp(name) });
  await bin('Interviews').click();
  await bin('Interviews').getByRole('button', { name: 'Drag Interviews' }).focus();
  await page.keyboard.press(' ');
  await page.waitForTimeout(200);
  for (let step = 0; step < 4; step++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press(' ');
  await expect(bin('Interviews')).toHaveAttribute('aria-level', '2');
  await bin('Not used yet').click();
  await page.keyboard.press('ArrowLeft');
  await expect(bin('Interviews')).toHaveCount(0);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await expect(bin('Interviews')).toHaveAttribute('aria-selected', 'true');
  await expect(bin('Interviews')).toBeFocused();
  await page.getByRole('textbox', { name: 'Lies in' }).click();
  await page.getByRole('option', { name: 'no other bin' }).click();
  await expect(bin('Interviews')).toHaveAttribute('aria-level', '1');
  await expect(bin('Interviews')).toHaveAttribute('aria-selected', 'true');
});

test('a clip that is renamed and tabbed on from keeps the keyboard: what is typed next is its note', async () => {
  await page.getByRole('tree', { name: 'Bins' }).getByText('All clips').click();
  await grid('Clips').getByText('B_0413', { exact: true }).click();
  const sheet = page.locator('.sheet');
  await sheet.getByRole('textbox', { name: 'Clip' }).fill('Cope and drag');
  await page.keyboard.press('Tab');
  await page.keyboard.type('two takes, the second is better', { delay: 15 });
  await expect(grid('Clips')).toContainText('Cope and drag');
  await expect(sheet.getByRole('textbox', { name: 'Note' })).toHaveValue('two takes, the second is better');
  await expect(sheet.getByRole('textbox', { name: 'Note' })).toBeFocused();
  await sheet.getByRole('textbox', { name: 'Clip' }).fill('   ');
  await page.keyboard.press('Tab');
  await expect(sheet.getByText('Type a name: blanks alone are none.')).toBeVisible();
  await expect(grid('Clips')).toContainText('two takes, the second is better');
  await expect(grid('Clips')).toContainText('Cope and drag');
});

test('forms tell beside the field what the server would refuse, in its words', async () => {
  await go('pull');
  const folder = page.getByRole('textbox', { name: 'Name of the new folder' });
  const words = 'The name of one folder holds no slash. Choose where it goes with the folder button.';
  await folder.fill('../outside');
  await expect(page.locator('.mantine-TextInput-error')).toHaveText(words);
  await expect(page.locator('[data-run-plan]')).toBeDisabled();
  await expect(page.locator('#why-not')).toHaveText(words);
  const settings = { timelineIds: [], media: 'parts', headFrames: 0, tailFrames: 0, joinGapFrames: 0, countDisabled: false, destination: null };
  const body = JSON.stringify({ kind: 'pull', projectId: project, settings: { ...settings, folderName: '../outside' } });
  const answer = await fetch(`${demo.address}api/plans`, { method: 'POST', headers: { 'content-type': 'application/json' }, body });
  expect(((await answer.json()) as { detail: string }).detail).toBe(words);
  // Kept so, and no earlier plan to show: the sheet says why, not that there is nothing.
  await page.waitForTimeout(300);
  await page.reload();
  await expect(page.locator('.sheet-body > p')).toHaveText(words);
  await folder.fill('Outside');
  await expect(page.locator('.mantine-TextInput-error')).toHaveCount(0);
  await page.goto(demo.address);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('button', { name: 'Make the project' }).click();
  await expect(page.getByText('Type a name.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Name' }).fill('Third bell');
  await page.getByRole('button', { name: 'Make the project' }).dblclick();
  await expect(page.getByRole('heading', { name: 'Nothing in here yet' })).toBeVisible();
  const made = (await (await fetch(`${demo.address}api/projects`)).json()) as { name: string }[];
  expect(made.filter(({ name }) => name === 'Third bell')).toHaveLength(1);
});

test('an undo is of the run that was chosen, whatever ends elsewhere; its receipt is its own', async () => {
  const ask = asker(demo);
  const destination = { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' };
  const timelineIds = [await timelineId(ask, project, 'Trailer 30s')];
  const exported = (folderName: string) => runPlan(ask, 'export', project, { timelineIds, format: 'edl', destination, folderName });
  const first = await exported('one');
  const second = await exported('two');
  await go('runs');
  await page.getByRole('button', { name: `Undo run ${second} …` }).click();
  const button = page.locator('[data-run-plan]');
  await expect(button).toHaveText(new RegExp(`^Undo run ${second}: remove \\d+ files?$`));
  const third = await exported('three');
  await expect(grid('Runs').getByRole('row').nth(1)).toContainText(String(third));
  await expect(button).toHaveText(new RegExp(`^Undo run ${second}: remove`));
  await button.click();
  await expect(page.locator('[data-run-state=done]')).toBeVisible();
  expect((await ask<{ undoneBy: number | null }>(`runs/${third}`)).undoneBy).toBeNull();
  expect((await ask<{ undoneBy: number | null }>(`runs/${second}`)).undoneBy).not.toBeNull();
  // The next undo is a plan of its own, not the receipt of this one.
  await grid('Runs').getByText(String(first), { exact: true }).click();
  await page.getByRole('button', { name: `Undo run ${first} …` }).click();
  await expect(button).toHaveText(new RegExp(`^Undo run ${first}: remove`));
  await expect(page.locator('[data-run-state]')).toHaveCount(0);
});

test('folders are a tree too: opened as they are looked at, walked by keyboard, found again where one was', async () => {
  for (let index = 0; index < 3000; index++) mkdirSync(join(demo.drive('STUDIO-RAID'), 'A many', `f${index}`), { recursive: true });
  await go('pull');
  await page.getByRole('textbox', { name: 'Destination shelf' }).click();
  await page.getByRole('option', { name: /STUDIO-RAID/ }).click();
  await page.getByRole('button', { name: 'Folder', exact: true }).click();
  const tree = page.getByRole('tree', { name: 'Folders of this shelf' });
  // Thousands in one folder: only what is in sight is drawn, and the last is a key away.
  await tree.getByRole('treeitem', { name: 'A many' }).click();
  await page.keyboard.press('ArrowRight');
  await expect(tree.getByRole('treeitem', { name: 'f0', exact: true })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(tree.getByRole('treeitem', { name: 'f0', exact: true })).toBeFocused();
  expect(await tree.getByRole('treeitem').count()).toBeLessThan(60);
  await page.keyboard.press('End');
  await expect(tree.locator('[aria-selected=true]')).toBeFocused();
  await page.keyboard.press('Home');
  await tree.getByRole('treeitem', { name: 'A many' }).click();
  await page.keyboard.press('ArrowLeft');
  await tree.getByRole('treeitem', { name: 'The whole shelf' }).click();
  await page.keyboard.press('ArrowDown');
  const first = tree.locator('[aria-selected=true]');
  const name = await first.locator('.name').innerText();
  await expect(first).toBeFocused();
  for (let step = 0; step < 8 && (await first.getAttribute('aria-expanded')) === null; step++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await expect(first).toHaveAttribute('aria-expanded', /true/);
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowDown');
  await page.getByRole('button', { name: 'Take this folder' }).click();
  await page.getByRole('button', { name, exact: true }).click();
  await expect(tree.locator('[aria-selected=true]')).toContainText(name);
});
