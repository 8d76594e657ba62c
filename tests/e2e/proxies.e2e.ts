/** Light copies in the browser: chosen, made, shown for what they are, standing in for sources that are away, taken back. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { asker, runPlan, shelfId, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';
import { drag } from '../helpers/drag';
import { filesBelow } from '../helpers/trust-house';

let demo: DemoServer;
let ask: Ask;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ask = asker(demo);
  page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  [{ id: project }] = await ask<[{ id: string }]>('projects');
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const rows = () => page.getByRole('grid', { name: 'Clips and their renditions' });
const row = (name: string) => rows().getByRole('row').filter({ hasText: name });
const sheet = () => page.getByLabel('Plan sheet', { exact: true });
const runButton = () => page.locator('[data-run-plan]');
const pick = async (field: string, option: RegExp) => {
  await page.getByRole('textbox', { name: field, exact: true }).click();
  await page.getByRole('option', { name: option }).click();
};
const states = async () => (await ask<{ states: Record<string, number> }>(`projects/${project}`)).states;

test('are planned with what each clip really gets, made, listed, and stand in for a drive that is away', async () => {
  await page.goto(`${demo.address}p/${project}/proxies`);
  await page.locator('[data-ready]').waitFor();
  await expect(row('archive_reel_1962')).toContainText('Courier');
  await expect(row('MUS_slow_bell')).toContainText('is its own');
  await pick('Preset', /Pocket/);
  await expect(sheet()).toContainText('instead of Pocket: 10-bit pictures band in 8 bits');
  await pick('Size of the picture', /A sixth/);
  // What another preset would take is measured, and taken by a click.
  await sheet().getByText('what it would take').click();
  await sheet().getByRole('button', { name: 'Take Courier, ÷6' }).click({ timeout: 60_000 });
  await expect(page.getByRole('textbox', { name: 'Preset', exact: true })).toHaveValue(/Courier/);
  await sheet().getByRole('button', { name: 'Look at a frame of it' }).click();
  await expect(page.getByRole('dialog').getByRole('img', { name: 'Courier' })).toHaveJSProperty('complete', true);
  await page.keyboard.press('Escape');
  await sheet().getByRole('button', { name: 'Take Pocket, ÷6' }).click();
  await sheet().getByText('what it would take').click();
  await page.getByRole('textbox', { name: 'Which clips', exact: true }).click();
  await page.getByRole('option', { name: 'Lacking a proxy' }).click();
  await expect(rows()).not.toContainText('MUS_slow_bell');
  await page.getByRole('textbox', { name: 'Find a clip' }).fill('B_04');
  await expect(rows()).not.toContainText('archive_reel_1962');
  await page.getByRole('textbox', { name: 'Find a clip' }).fill('');

  await pick('Destination shelf', /TRAVEL-SSD/);
  await expect(runButton()).toHaveText(/Make \d+ files/);
  const before = await states();
  await runButton().click();
  await expect(sheet()).toContainText('Receipt', { timeout: 150_000 });
  const { rows: runs } = await ask<{ rows: { id: number }[] }>(`runs?project=${project}`);
  const run = await ask<{ state: string; troubled: { message: string }[] }>(`runs/${runs[0]!.id}?wait=end`);
  expect([run.state, ...run.troubled.map(({ message }) => message)]).toEqual(['done']);
  expect(await states()).toEqual(before);
  const travel = join(demo.folder, 'bay/plugged/TRAVEL-SSD');
  expect(filesBelow(travel).filter((path) => path.startsWith('Proxies/'))).toContain('Proxies/FOUNDRY-B/Camera B/B_0412_pour.mov');

  await pick('Which clips', /All clips/);
  await expect(row('B_0412')).toContainText('has one');
  await row('B_0412').click();
  const strip = page.getByRole('region', { name: 'Renditions of B_0412' });
  await expect(strip).toContainText('Pocket · made today');
  await expect(strip).toContainText('TRAVEL-SSD');

  // Both are played on one timecode, stepped by frames; both as they are.
  await strip.getByRole('button', { name: 'Play the proxy' }).click();
  const player = page.getByRole('dialog');
  await expect(player.locator('video[data-frame-ready=true]')).toHaveCount(2, { timeout: 30_000 });
  for (let index = 0; index < 7; index++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowLeft');
  await expect(player.locator('[data-frame="6"]')).toHaveText(/:06$/);
  const stand = () =>
    player.locator('video').evaluateAll((videos) => videos.map((video) => Math.floor((video as HTMLVideoElement).currentTime * 25)));
  await expect.poll(stand).toEqual([6, 6]);
  await player.getByText('difference to').click();
  await expect(player.locator('video')).toHaveCount(2);
  await player.locator('.player').focus();
  await page.keyboard.press(' ');
  await expect.poll(async () => (await stand())[0]).toBeGreaterThan(10);
  await page.keyboard.press(' ');
  await expect.poll(async () => new Set(await stand()).size).toBe(1);
  await page.keyboard.press('Escape');
  await expect(player).toHaveCount(0);

  // What would be, before it is.
  await pick('Shelves left behind', /FOUNDRY-B/);
  await page.keyboard.press('Escape');
  await expect(row('B_0412')).toContainText('by proxy');
  await expect(page.getByRole('status').filter({ hasText: 'by proxy' })).toContainText('→');
  expect((await states())['by-proxy'] ?? 0).toBe(0);
  await ask('bay/FOUNDRY-B', { plugged: false });
  await expect.poll(async () => (await states())['by-proxy'] ?? 0).toBeGreaterThan(0);
  await pick('Which clips', /Only copy there is/);
  await expect(row('B_0412')).toContainText('has one');

  // The line is moved before the proxies by keyboard: tried out first, then kept.
  await pick('Which clips', /All clips/);
  await page.getByRole('button', { name: /^The line at which reading stops/ }).focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(row('B_0412')).toContainText('not read');
  await expect(page.getByRole('status').filter({ hasText: 'not read' })).toContainText(/events? offline/);
  expect((await states())['not-read']).toBe(0);
  await page.getByRole('button', { name: 'Read in this order' }).click();
  await expect(page.getByRole('button', { name: 'Read in this order' })).toHaveCount(0);
  await expect.poll(async () => (await states())['not-read']).toBeGreaterThan(0);
  await expect(page.locator('header')).toContainText('not read');
  // By pointer back to where it was; before everything else it cannot stand.
  const line = page.getByRole('columnheader').filter({ has: page.getByRole('button', { name: /^The line at which reading stops/ }) });
  await drag(page, line, page.getByRole('columnheader', { name: /^Proxy/ }));
  await page.getByRole('button', { name: 'Read in this order' }).click();
  await expect.poll(async () => (await states())['not-read']).toBe(0);
  await ask('bay/FOUNDRY-B', { plugged: true });
});

test('made elsewhere are linked, and removed again with a word on what goes offline', async () => {
  const { rows: clips } = await ask<{ rows: { name: string; id: string }[] }>(`projects/${project}/clips?filter=A002_C00&limit=10`);
  const shelves = await ask<{ id: string; name: string }[]>('shelves');
  const travel = shelves.find(({ name }) => name === 'TRAVEL-SSD')!.id;
  const folder = join(demo.folder, 'bay/plugged/TRAVEL-SSD/From the lab');
  mkdirSync(folder);
  const source = filesBelow(demo.folder).find((path) => path.endsWith('/A002_C001.mov'))!;
  execFileSync('ffmpeg', ['-v', 'error', '-i', join(demo.folder, source), '-map', '0:v', '-map', '0:a?', '-vf', 'scale=320:180', '-c:v', 'mjpeg', '-c:a', 'pcm_s16le', join(folder, 'A002_C001_proxy.mov')]); // prettier-ignore
  await ask(`shelves/${travel}/stocktake`, {});
  await ask(`shelves/${travel}/stocktake?wait=end`);
  expect(clips.map(({ name }) => name)).toContain('A002_C001');
  await page.goto(`${demo.address}p/${project}/proxies?view=found`);
  await page.locator('[data-ready]').waitFor();
  await pick('Where they lie', /TRAVEL-SSD/);
  const found = page.getByRole('grid', { name: 'Clips and what was found' });
  const own = found.getByRole('row').filter({ hasText: 'A002_C001' });
  // One was made here already: that is said, until another folder is asked for.
  await expect(own).toContainText('it is linked already');
  await sheet().getByRole('textbox', { name: 'Only in folders called' }).fill('from the LAB');
  await expect(own).toContainText('A002_C001_proxy.mov');
  await own.click();
  await expect(page.getByRole('region', { name: 'Found for A002_C001' })).toContainText('180 lines, fits');
  await expect(runButton()).toHaveText('Link to 1 clip');
  await runButton().click();
  await expect(sheet()).toContainText('Receipt', { timeout: 30_000 });
  await expect(page.locator('[data-run-state=done]')).toBeVisible();

  await page.goto(`${demo.address}p/${project}/proxies?view=remove&filter=A002_C001`);
  await page.locator('[data-ready]').waitFor();
  const going = page.getByRole('grid', { name: 'What is removed' }).getByRole('row').filter({ hasText: 'A002_C001_proxy.mov' });
  // What somebody else made is only let go of, unless it is named as such.
  await expect(going).toContainText('it was made elsewhere');
  await sheet()
    .getByRole('checkbox', { name: /Delete files made elsewhere too/ })
    .check();
  await expect(going).toContainText('file and link go');
  await pick('For which clips', /What timelines use/);
  await pick('Which of them', /All of them/);
  await ask('bay/FOUNDRY-B', { plugged: false });
  const word = sheet().getByRole('checkbox', { name: /Delete the last file of B_0412/ });
  await expect(word).toBeVisible();
  await expect(runButton()).toBeDisabled();
  await word.check();
  await expect(runButton()).toBeEnabled();
  await expect(runButton()).toHaveText(/Remove \d+ files?/);
  await runButton().click();
  await expect(page.locator('[data-run-state=done]')).toBeVisible({ timeout: 30_000 });
  expect(filesBelow(demo.folder).filter((path) => path.endsWith('A002_C001_proxy.mov'))).toEqual([]);
  expect(filesBelow(demo.folder).filter((path) => path.endsWith('/A002_C001.mov'))).not.toEqual([]);
});

test('are made of clips that are ticked in the bins', async () => {
  await page.goto(`${demo.address}p/${project}/timelines?view=bins`);
  await page.locator('[data-ready]').waitFor();
  await page.getByRole('grid', { name: 'Clips' }).getByRole('checkbox', { name: /Tick A002_C003/ }).first().click(); // prettier-ignore
  await page.getByRole('button', { name: 'More for these clips' }).click();
  await page.getByRole('menuitem', { name: 'Make proxies of 1 ticked clip' }).click();
  await page.waitForURL('**/proxies');
  await expect(page.getByRole('textbox', { name: 'For which clips' })).toHaveValue('1 chosen clip');
  await expect(row('A002_C003')).toBeVisible();
  await expect(row('B_0412')).toHaveCount(0);
});

test('the finish check says of every event whether it is ready, and is kept as a page', async () => {
  await page.goto(`${demo.address}p/${project}/proxies?view=finish`);
  await page.locator('[data-ready]').waitFor();
  const events = page.getByRole('grid', { name: 'Events and what they read' });
  await expect(events.getByRole('row').nth(1)).toContainText(/its media is|light copy/);
  await expect(sheet()).toContainText(/\d+ of \d+ events/);
  await pick('Which events', /All events/);
  await expect(events).toContainText('ready');
  const [download] = await Promise.all([page.waitForEvent('download'), sheet().getByRole('button', { name: 'Keep as a page' }).click()]);
  expect(download.suggestedFilename()).toBe('Finish check.html');
  expect(await download.path().then((path) => readFileSync(path, 'utf8'))).toContain('Where not');
});

test('graded shots are exchanged under the edit, looked at beside what was there, and taken back', async () => {
  await page.goto(`${demo.address}p/${project}/proxies?view=exchange`);
  await page.locator('[data-ready]').waitFor();
  await expect(sheet()).toContainText('Choose the shelf or folder in which they lie.');
  await pick('Where they lie', /TRAVEL-SSD/);
  const shots = page.getByRole('grid', { name: 'Events and what takes their place' });
  const shot = (name: string) => shots.getByRole('row').filter({ hasText: name });
  await expect(shot('Polish')).toContainText('reel and timecode');
  await expect(shot('First strike')).toContainText('10 frames lack');
  await expect(shot('Tower')).toContainText('2 files fit');
  await shot('Tower').click();
  await page.getByRole('region', { name: 'Tower before and after' }).getByRole('checkbox').first().check();
  await expect(shot('Tower')).toContainText('as you chose');

  // From the shot before on, both at its in and at its out point, by keyboard.
  await shot('Pour wide').click();
  await page.getByRole('button', { name: 'Play both' }).click();
  const player = page.getByRole('dialog');
  const stand = () =>
    player.locator('video').evaluateAll((videos) => videos.map((video) => Math.floor((video as HTMLVideoElement).currentTime * 25)));
  await expect.poll(stand, { timeout: 40_000 }).toEqual([12, 52]);
  await page.keyboard.press(']');
  await expect.poll(stand).toEqual([109, 149]);
  await page.keyboard.press('PageDown');
  await expect(player).toContainText('Look at Ladle');
  // Pressed again and again where it stood, it goes on, whatever size is looked at.
  const on = player.getByRole('button', { name: /^The next one/ });
  const stood = (await on.boundingBox())!;
  const titles = new Set<string>();
  for (let press = 0; press < 4; press++) {
    await page.mouse.click(stood.x + stood.width / 2, stood.y + stood.height / 2);
    await page.waitForTimeout(60);
    await expect(player).toBeVisible();
    titles.add((await player.getByRole('heading').textContent())!);
  }
  expect([titles.size, await on.boundingBox()]).toEqual([4, stood]);
  await page.keyboard.press('Escape');

  await expect(runButton()).toHaveText('Exchange 4 events');
  await runButton().click();
  await expect(page.locator('[data-run-state=done]')).toBeVisible();
  await page.goto(`${demo.address}p/${project}/timelines?view=versions`);
  await page.locator('[data-ready]').waitFor();
  const changes = page.getByRole('grid', { name: 'Changes' });
  await expect(changes.getByRole('row')).toHaveCount(5);
  await changes.getByRole('row').filter({ hasText: 'Tower' }).click();
  await expect(page.getByRole('complementary').getByText('BH_120.mov')).toBeVisible();
  const { rows: runs } = await ask<{ rows: { id: number }[] }>(`runs?project=${project}`);
  const { digest } = await ask<{ digest: string }>('plans', { projectId: project, kind: 'undo', settings: { runId: runs[0]!.id, confirmed: false } });
  await ask('runs', { projectId: project, kind: 'undo', settings: { runId: runs[0]!.id, confirmed: false }, digest });
  await expect.poll(async () => (await ask<unknown[]>(`projects/${project}/timelines`)).length).toBe(4);
});

test('what goes along is copied kind by kind; those that lack a proxy are made first', async () => {
  await page.goto(`${demo.address}p/${project}/proxies?view=finish`);
  await page.locator('[data-ready]').waitFor();
  // From one view to the next by its tab: its plan comes too.
  await page.getByRole('radiogroup', { name: 'What to do with proxies' }).getByText('Take along').click();
  await expect(sheet()).toContainText(/of which \d+ would lose colours or alpha in 8 bits/);
  await sheet().getByRole('button', { name: 'Make what lacks a proxy first' }).click();
  // Of the same clips those that lack one.
  await expect(page.getByRole('textbox', { name: 'For which clips' })).toHaveValue('All of the project');
  await expect(page.getByRole('textbox', { name: 'Which of them', exact: true })).toHaveValue('Where none fits yet');
  await expect(row('A002_C003')).toContainText('Thread');
  await page.goBack();
  await page.getByRole('checkbox', { name: 'Sources' }).check();
  await page.getByRole('checkbox', { name: 'Proxies', exact: true }).uncheck();
  await pick('Shelf for the sources', /TRAVEL-SSD/);
  await page.getByRole('textbox', { name: 'Find a clip' }).fill('archive');
  const list = page.getByRole('grid', { name: 'What is taken along, clip by clip' });
  await expect(list.getByRole('row')).toHaveCount(2);
  await expect(list).toContainText('copied');
  await expect(runButton()).toHaveText(/Copy \d+ files/);
  await runButton().click();
  await expect(page.locator('[data-run-state=done]')).toBeVisible({ timeout: 30_000 });
  const travel = join(demo.folder, 'bay/plugged/TRAVEL-SSD');
  expect(filesBelow(travel)).toContain('Sources/STUDIO-RAID/Archive/archive_reel_1962.mxf');
  await ask('bay/STUDIO-RAID', { plugged: false });
  const { rows: clips } = await ask<{ rows: { state: string }[] }>(`projects/${project}/clips?filter=archive&limit=5`);
  expect(clips.map(({ state }) => state)).toEqual(['present']);
  await ask('bay/STUDIO-RAID', { plugged: true });
  // For a trip: the best that fits.
  await pick('How much goes along', /The best that fits/);
  // All of it stands on TRAVEL-SSD now, and costs nothing there.
  await pick('Drive for the trip', /STUDIO-RAID.* free/);
  const most = page.getByRole('textbox', { name: 'At most on the drive' });
  await most.fill('1 kB');
  await most.press('Enter');
  await expect(page.getByLabel('The trip').getByRole('status')).toContainText(/no room for \d+ clips/);
  await most.fill('half of it');
  await expect(page.getByText('as 20 GB or 1 TB', { exact: true })).toBeVisible();
  // Escape goes back to what was kept; an empty field is no limit.
  await most.press('Escape');
  await expect(most).toHaveValue('1.00 kB');
  await most.fill('');
  await most.press('Tab');
  await expect(page.getByLabel('The trip').getByRole('status')).not.toContainText('no room');
});

test('proxies have a home that is told and changed; generations are kept in order, and one is gone back to', async () => {
  const { rows: found } = await ask<{ rows: { id: string }[] }>(`projects/${project}/clips?filter=A002_C003&limit=1`);
  const destination = { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' };
  const settings = { scope: { of: 'clips', clipIds: [found[0]!.id] }, presetId: 'pocket', size: { by: 'share', share: 6 }, onlyLacking: false, destination, layout: 'flat', leave: [] }; // prettier-ignore
  const burnIn = { lines: ['timecode'], text: '', where: 'bottom', opacity: 0.8 };
  await runPlan(ask, 'proxies', project, { ...settings, burnIn, folderName: 'Working set' });
  await runPlan(ask, 'proxies', project, { ...settings, burnIn: null, folderName: 'Clean' });
  await page.goto(`${demo.address}p/${project}/proxies`);
  await page.locator('[data-ready]').waitFor();
  await pick('Destination shelf', /STUDIO-RAID/);
  await page.getByRole('textbox', { name: 'Name of the folder' }).fill('Light');
  await pick('Which of them', /Anew/);
  await expect(sheet()).toContainText('Proxies are at home in STUDIO-RAID / Light then, no longer in TRAVEL-SSD / Clean.');
  await sheet().getByRole('button', { name: /Bring \d+ prox\w+ that stands? elsewhere/ }).click(); // prettier-ignore
  await expect(page.getByRole('textbox', { name: 'Folder for the proxies' })).toHaveValue('Light');
  // Those alone, not what is its own proxy.
  await expect(page.getByRole('textbox', { name: 'For which clips' })).toHaveValue(/chosen clip/);
  await page.getByRole('button', { name: 'Home of the proxies' }).click();
  await expect(page.getByRole('button', { name: 'Home of the proxies' })).toHaveAttribute('aria-pressed', 'true');

  await page.getByRole('radiogroup', { name: 'What to do with proxies' }).getByText('Generations').click();
  await pick('Generations of what', /Proxies/);
  const list = page.getByRole('grid', { name: 'Clips and the generation they read' });
  await list.getByRole('gridcell', { name: 'A002_C003' }).click();
  const shot = page.getByRole('region', { name: 'Generations of A002_C003' });
  await expect(shot.getByRole('figure')).toHaveCount(3);
  await expect(shot.locator('.is-read')).toContainText('Clean');
  await sheet().getByRole('button', { name: 'One step back' }).click();
  await expect(list.getByRole('row').filter({ hasText: 'A002_C003' })).toContainText('Working set');
  await runButton().click();
  await expect(page.locator('[data-run-state=done]')).toBeVisible({ timeout: 20_000 });
  await expect(shot.locator('.is-read')).toContainText('Working set');
});
