/** Hands that do not look twice: double clicks, keys after typing, dialogs by keyboard, settings that are kept, addresses. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { asker, makeCrate, pausedPull, pullParts, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';

let demo: DemoServer;
let ask: Ask;
let context: BrowserContext;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  // A name that is none of this machine's own: to the browser it is a plain page from another one.
  demo = await startDemo('--name', 'mill.test');
  ask = asker(demo);
  context = await browser.newContext();
  page = await context.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  [{ id: project }] = await ask<[{ id: string }]>('projects');
});
test.afterAll(async () => {
  await context.close();
  await demo.stop();
});

const go = async (stage: string) => {
  await page.goto(`${demo.address}p/${project}/${stage}`);
  await page.locator('[data-ready]').waitFor();
};
const grid = (name: string) => page.getByRole('grid', { name, exact: true });
const sheet = () => page.getByLabel('Plan sheet', { exact: true });
const chooseTravel = async () => {
  await page.getByRole('textbox', { name: 'Destination shelf' }).click();
  await page.getByRole('option', { name: /TRAVEL-SSD/ }).click();
};
const runButton = () => page.locator('[data-run-plan]');

test('a second, slow click on the run button finds nothing to press; cancel asks', async () => {
  await go('pull');
  await chooseTravel();
  await page.getByRole('textbox', { name: 'Name of the new folder' }).fill('Pressed twice');
  await expect(runButton()).toBeEnabled();
  const box = (await runButton().boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.dblclick(x, y);
  // As slow hands do: again in the same place, a few times.
  for (const pause of [250, 300, 300]) {
    await page.waitForTimeout(pause);
    await page.mouse.click(x, y);
  }
  await expect(page.locator('[data-run-state=done]')).toBeVisible();
  await expect(page.getByText('That did not work')).toHaveCount(0);
  const { rows } = await ask<{ rows: { title: string; state: string }[] }>(`runs?project=${project}`);
  expect(rows.map(({ state }) => state)).toEqual(['done']);
  expect(context.pages()).toHaveLength(1);
  // The keyboard is on the receipt that came of it; back on the plan it is on the button.
  await page.getByRole('button', { name: 'Back to the plan' }).click();
  await expect(runButton()).toBeVisible();
  await expect(page.locator('[data-receipt]')).toHaveCount(0);
});

test('a receipt stands for the settings it was run with; others are a plan again', async () => {
  await go('pull');
  await chooseTravel();
  await page.getByRole('textbox', { name: 'Name of the new folder' }).fill('Once more');
  await expect(runButton()).toBeEnabled();
  await runButton().press('Enter');
  await expect(page.locator('[data-run-state=done]')).toBeVisible();
  await expect(page.locator('[data-receipt]')).toBeFocused();
  // What came of it, a timeline more, does not take the receipt away; another setting does.
  await page.waitForTimeout(600);
  await expect(page.locator('[data-run-state=done]')).toBeVisible();
  await page.getByRole('textbox', { name: 'Head' }).fill('7');
  await expect(page.locator('[data-run-state]')).toHaveCount(0);
  await expect(runButton()).toBeVisible();
});

test('cancel asks first, and cancels the run it named', async () => {
  const id = await pausedPull(ask, project, 'To be cancelled');
  const cancel = page.getByRole('button', { name: `Cancel run ${id}` });
  await expect(cancel).toHaveAttribute('aria-disabled', 'false');
  await cancel.click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText(`Cancel run ${id}?`);
  await expect(dialog.getByRole('button', { name: 'Let it go on' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  expect((await ask<{ state: string }>(`runs/${id}`)).state).toBe('paused');
  await cancel.click();
  await dialog.getByRole('button', { name: `Cancel run ${id}` }).click();
  await expect.poll(async () => (await ask<{ state: string }>(`runs/${id}`)).state).toBe('cancelled');
});

test('stage keys never follow typing, and are there again after a click on a checkbox', async () => {
  await go('timelines?view=bins');
  await grid('Clips').getByRole('row').nth(1).click();
  const note = page.getByRole('textbox', { name: 'Note' });
  await note.focus();
  await page.keyboard.type('the strike');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  // The keyboard is on a colour by now; the letters were meant for the note.
  await page.keyboard.type('t41');
  await page.waitForTimeout(300);
  expect(page.url()).toContain('view=bins');
  await page.waitForTimeout(1200);
  await grid('Clips').getByRole('checkbox').nth(1).click();
  await page.keyboard.press('6');
  await page.waitForURL('**/crates');
});

test('dialogs take the keyboard, keep it and give it back, also out of a menu', async () => {
  await page.goto(demo.address);
  const more = page.getByRole('button', { name: 'More for Bronze Hour' });
  for (const item of ['Rename', 'Remove from the list']) {
    await more.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menuitem', { name: 'Open', exact: true })).toBeVisible();
    while (!(await page.getByRole('menuitem', { name: item }).evaluate((node) => node === document.activeElement)))
      await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    const dialog = page.getByRole('dialog');
    await expect(dialog).toBeVisible();
    await expect.poll(() => dialog.evaluate((node) => node.contains(document.activeElement))).toBe(true);
    await page.waitForTimeout(400);
    for (let index = 0; index < 8; index++) {
      await page.keyboard.press('Tab');
      expect(await dialog.evaluate((node) => node.contains(document.activeElement))).toBe(true);
    }
    await page.keyboard.press('Escape');
    await expect(dialog).toHaveCount(0);
    await expect(more).toBeFocused();
  }
  await more.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('menuitem', { name: 'Open', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(more).toBeFocused();
  // Keys faster than the keyboard comes into the menu: two in one go.
  await more.evaluate((button: HTMLElement) => {
    button.click();
    setTimeout(() => button.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true })), 0);
  });
  await expect(page.getByRole('menuitem', { name: 'Open', exact: true })).toHaveCount(0);
  await expect(more).toBeFocused();
  await page.getByRole('button', { name: 'New project' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByRole('textbox').first()).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'New project' })).toBeFocused();
});

test('a bin that was made by keyboard is in hand with the keyboard on it', async () => {
  await go('timelines?view=bins');
  await page.getByRole('button', { name: 'New bin' }).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Second take');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('treeitem', { name: 'Second take' })).toBeFocused();
  await expect(page).toHaveURL(/bin=Second/);
});

test('settings are kept as they were chosen last, in their order, and by project', async () => {
  await go('timelines');
  await page.getByRole('button', { name: /^Export/ }).click();
  await sheet().getByRole('textbox', { name: 'Name of the folder' }).fill('Lists for the mix');
  await page.getByRole('button', { name: 'Close the export' }).click();
  await page.getByRole('button', { name: /^Export/ }).click();
  await expect(sheet().getByRole('textbox', { name: 'Name of the folder' })).toHaveValue('Lists for the mix');
  // Another choice does not bring back what was there at page load.
  await sheet().getByRole('textbox', { name: 'Format' }).click();
  await page.getByRole('option').nth(1).click();
  await page.reload();
  await page.getByRole('button', { name: /^Export/ }).click();
  await expect(sheet().getByRole('textbox', { name: 'Name of the folder' })).toHaveValue('Lists for the mix');
  const { id: other } = await ask<{ id: string }>(`projects/${project}/duplicate`, {});
  await page.goto(`${demo.address}p/${other}/timelines`);
  await page.getByRole('button', { name: /^Export/ }).click();
  await expect(sheet().getByRole('textbox', { name: 'Name of the folder' })).toHaveValue('Exports');
  // Answers that come late are not written over later ones.
  const held: (() => void)[] = [];
  await page.route('**/remember', async (route) => {
    if (held.length === 0) await new Promise<void>((done) => held.push(done));
    await route.continue();
  });
  const folder = sheet().getByRole('textbox', { name: 'Name of the folder' });
  await folder.fill('');
  await folder.pressSequentially('Late but last', { delay: 20 });
  held[0]!();
  await expect
    .poll(async () => (await ask<{ remembered: { export?: { folderName: string } } }>(`projects/${other}`)).remembered.export?.folderName)
    .toBe('Late but last');
  await page.unroute('**/remember');
  await page.route('**/remember', (route) => route.fulfill({ status: 503, json: { detail: 'The disk is full.', hint: 'Make room.' } }));
  await folder.fill('Not kept');
  await expect(page.getByText('Your choice is not kept for the next time.')).toBeVisible();
  await page.unroute('**/remember');
  await ask(`projects/${other}`, undefined, 'DELETE');
});

test('a name that holds the day is made new each day; one that was given is kept', async () => {
  await go('crates');
  const name = page.getByRole('textbox', { name: 'Name of the crate' });
  const today = await page.evaluate(() => new Date().toLocaleDateString('sv'));
  await expect(name).toHaveValue(`Bronze Hour ${today}`);
  await name.fill(`For the mix ${today}`);
  await page.getByRole('textbox', { name: 'Note for whoever opens it' }).fill('Since 2025-12-31');
  await page.waitForTimeout(300);
  await page.clock.install({ time: new Date(Date.now() + 3 * 86_400_000) });
  await page.reload();
  const later = await page.evaluate(() => new Date().toLocaleDateString('sv'));
  expect(later).not.toBe(today);
  await expect(name).toHaveValue(`For the mix ${later}`);
  await expect(page.getByRole('textbox', { name: 'Note for whoever opens it' })).toHaveValue('Since 2025-12-31');
  await page.close();
  page = await context.newPage();
});

test('find anything leads to the very thing: clip, bin, file, run, crate', async () => {
  await makeCrate(ask, project, 'Crate to be found');
  const run = await pullParts(ask, project, 'A run to be found');
  const find = async (words: string, name: RegExp) => {
    await go('overview');
    await page.keyboard.press('Control+k');
    await page.getByRole('searchbox', { name: 'Find anything' }).or(page.getByLabel('Find anything')).first().fill(words);
    await page.getByRole('dialog').getByRole('button', { name }).first().click();
    await page.locator('[data-ready]').waitFor();
  };
  // A clip that no timeline uses.
  await find('founder', /The founder/);
  await expect(page.getByRole('treeitem', { name: 'Interviews' })).toHaveAttribute('aria-selected', 'true');
  await expect(sheet().getByRole('textbox', { name: 'Clip', exact: true })).toHaveValue('The founder');
  await find('not used', /^Not used yet/);
  await expect(page.getByRole('treeitem', { name: 'Not used yet' })).toHaveAttribute('aria-selected', 'true');
  await find('lapel', /A003_C001_lapel\.wav/);
  await expect(page.getByRole('dialog').filter({ hasText: 'Codec' })).toContainText('A003_C001_lapel.wav');
  // The palette goes as the file comes.
  await expect(page.getByRole('dialog')).toHaveCount(1);
  await find('crate to be', /Crate to be found/);
  await expect(sheet()).toContainText('Check 6 files');
  await expect(grid('Crates made').locator('.sel')).toContainText('Crate to be found');
  await find('pull the used', new RegExp(`Run ${run},`));
  await expect(sheet()).toContainText(`Receipt · run ${run}`);
  // Also where there is no project.
  await page.goto(demo.address);
  await page.locator('[data-ready]').waitFor();
  await page.keyboard.press('Control+k');
  await page.getByLabel('Find anything').first().fill('bronze');
  await page.getByRole('dialog').getByRole('button', { name: /Bronze Hour/ }).first().click(); // prettier-ignore
  await page.waitForURL('**/overview');
});

test('the address tells where one is: back, reload and sent links lead there; what is gone is said', async () => {
  await go('timelines');
  await grid('Timelines').getByText('Trailer 30s', { exact: true }).click();
  await expect(page).toHaveURL(/timeline=/);
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Usage').click();
  await page.getByLabel('Find an item').fill('c003');
  await grid('Used items').getByText('A002_C003.mov').first().click();
  await expect(page).toHaveURL(/find=c003/);
  await expect(page).toHaveURL(/item=/);
  const link = page.url();
  await page.goBack();
  await expect(grid('Timelines').locator('.sel')).toContainText('Trailer 30s');
  await page.goBack();
  await expect(grid('Timelines').locator('.sel')).not.toContainText('Trailer 30s');
  const colleague = await context.newPage();
  await colleague.goto(link);
  await expect(colleague.getByLabel('Find an item')).toHaveValue('c003');
  await expect(colleague.getByRole('grid', { name: 'Used items' }).locator('.sel')).toContainText('A002_C003.mov');
  await expect(colleague.getByLabel('Plan sheet', { exact: true })).toContainText('A002_C003.mov');
  await colleague.close();
  for (const [address, words] of [
    ['timelines?timeline=no-such', 'The timeline of this address'],
    ['timelines?view=bins&bin=No/such', 'The bin of this address'],
    ['timelines?view=bins&clip=no-such', 'The clip of this address'],
    ['timelines?view=versions&older=no&newer=such', 'A timeline of this address'],
    ['shelves?shelf=no-such', 'The shelf of this address'],
    ['shelves?item=no-such', 'The item of this address'],
    ['crates?view=made&crate=no-such', 'The crate of this address'],
    ['runs?run=4711', 'The run of this address'],
  ] as const) {
    await go(address);
    await expect(page.getByText(words), address).toBeVisible();
    await page.getByRole('button', { name: 'All right' }).click();
    await expect(page.getByText(words), address).toHaveCount(0);
  }
});

test('/ ? and Ctrl K work on every page', async () => {
  for (const address of ['', ...['overview', 'timelines', 'shelves', 'relink', 'pull', 'crates', 'runs'].map((stage) => `p/${project}/${stage}`)]) {
    await page.goto(demo.address + address);
    await page.locator('[data-ready]').waitFor();
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog')).toContainText('Filter the list');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await page.keyboard.press('Control+k');
    await expect(page.getByLabel('Find anything').first()).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(page.getByLabel('Find anything')).toHaveCount(0);
    const filter = page.locator('[data-filter] input, input[data-filter]').first();
    if ((await filter.count()) === 0) continue;
    await page.keyboard.press('/');
    await expect(filter).toBeFocused();
  }
});

test('paths are copied on plain http too', async ({ browser }) => {
  const other = await browser.browserType().launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--host-resolver-rules=MAP mill.test 127.0.0.1'],
  });
  const plain = await other.newPage();
  await plain.goto(demo.address.replace('127.0.0.1', 'mill.test') + `p/${project}/shelves`);
  expect(await plain.evaluate(() => window.isSecureContext)).toBe(false);
  const copy = plain.getByRole('grid', { name: 'Items' }).locator('.copy').first();
  const path = (await copy.getAttribute('aria-label'))!.replace(/^Copy /, '');
  await copy.click();
  await expect(copy).toHaveAttribute('title', 'Copied');
  const filter = plain.getByLabel('Filter items');
  await filter.click();
  await plain.keyboard.press('Control+v');
  await expect(filter).toHaveValue(path);
  await filter.fill('');
  await plain.getByRole('button', { name: 'More for FOUNDRY-A' }).click();
  await plain.getByRole('menuitem', { name: 'Copy its path' }).click();
  await filter.click();
  await plain.keyboard.press('Control+v');
  await expect(filter).toHaveValue(demo.drive('FOUNDRY-A'));
  // News come there too.
  await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Over plain http' });
  await plain.goto(demo.address.replace('127.0.0.1', 'mill.test') + `p/${project}/timelines?view=bins`);
  await expect(plain.getByRole('treeitem', { name: 'Over plain http' })).toBeVisible();
  await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Heard over plain http' });
  await expect(plain.getByRole('treeitem', { name: 'Heard over plain http' })).toBeVisible();
  await other.close();
});

test('what one comes to by itself does not become another under the hand', async () => {
  await pullParts(ask, project, 'Here first');
  await go('runs');
  const before = await grid('Runs').locator('.sel').innerText();
  const undo = page.getByRole('button', { name: /^Undo run \d+ …$/ });
  const words = await undo.innerText();
  await pullParts(ask, project, 'Elsewhere meanwhile');
  await expect(grid('Runs').getByRole('row').nth(1).getByRole('gridcell').first()).not.toHaveText(before.split('\n')[0]!);
  expect(await grid('Runs').locator('.sel').innerText()).toBe(before);
  expect(await undo.innerText()).toBe(words);
});

test('a key in the palette opens nothing that was found by earlier words', async () => {
  await go('overview');
  await page.keyboard.press('Control+k');
  const field = page.getByLabel('Find anything').first();
  await field.fill('lapel');
  const found = page.getByRole('dialog').getByRole('button', { name: /lapel/ }).first();
  await expect(found).toBeVisible();
  await page.route(/\/(clips|items|runs)\?/, async (route) => {
    await new Promise((done) => setTimeout(done, 2000));
    await route.continue().catch(() => undefined);
  });
  // Answers to the new words are on their way; those to the old ones do not stand under the hand meanwhile.
  await field.fill('pour');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(400);
  expect(page.url()).not.toContain('lapel');
  await expect(page.getByRole('dialog').getByRole('button', { name: /lapel/ })).toHaveCount(0);
  await page.unroute(/\/(clips|items|runs)\?/);
});

test('places that are passed by arrow keys are one step of the way back', async () => {
  await go('timelines');
  const first = await grid('Timelines').locator('.sel b').first().innerText();
  await grid('Timelines').focus();
  for (let index = 0; index < 3; index++) await page.keyboard.press('ArrowDown');
  await expect(grid('Timelines').locator('.sel b').first()).not.toHaveText(first);
  await page.goBack();
  await expect(grid('Timelines').locator('.sel b').first()).toHaveText(first);
});

test('the folded sheet opens by its key, with the keyboard in it', async () => {
  await page.setViewportSize({ width: 1024, height: 768 });
  await go('pull');
  await expect(runButton()).not.toBeVisible();
  await page.keyboard.press('p');
  await expect(runButton()).toBeVisible();
  await expect.poll(() => sheet().evaluate((node) => node.contains(document.activeElement))).toBe(true);
  await page.setViewportSize({ width: 1280, height: 800 });
});
