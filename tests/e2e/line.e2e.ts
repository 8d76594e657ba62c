/** The line of news: one for all tabs; lost, it is said within seconds, and what was missed is asked for when it is back. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { asker, pausedPull, runPlan, shelfId, timelineId, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';

test.describe.configure({ mode: 'serial' });

let demo: DemoServer;
let ask: Ask;
let context: BrowserContext;
let page: Page;
let project = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  ask = asker(demo);
  context = await browser.newContext();
  page = await context.newPage();
  [{ id: project }] = await ask<[{ id: string }]>('projects');
});
test.afterAll(async () => {
  await context.close();
  await demo.stop();
});

const path = (stage: string) => `${demo.address}p/${project}/${stage}`;
const strip = (on: Page) => on.locator('footer.strip');

test('ten tabs load and hear of what happens', async () => {
  const tabs: Page[] = [];
  for (let index = 0; index < 10; index++) {
    const tab = await context.newPage();
    await tab.goto(path('timelines?view=bins'));
    await expect(tab.getByRole('grid', { name: 'Clips' }).getByRole('row').nth(1)).toBeVisible();
    tabs.push(tab);
  }
  await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Heard by all' });
  for (const tab of tabs) await expect(tab.getByRole('treeitem', { name: 'Heard by all' })).toBeVisible();
  // The one that opened the line is closed: the others go on hearing.
  await tabs.shift()!.close();
  await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Heard by the rest' });
  for (const tab of tabs) await expect(tab.getByRole('treeitem', { name: 'Heard by the rest' })).toBeVisible();
  for (const tab of tabs) await tab.close();
});

test('a server that is gone is noticed within seconds; what is shown stays, and is true again when it is back', async () => {
  await page.goto(path('timelines?view=bins'));
  await expect(page.getByRole('treeitem', { name: 'Heard by all' })).toBeVisible();
  await demo.kill();
  await expect(strip(page)).toContainText(/No word from the server since \d\d:\d\d:\d\d/, { timeout: 6_000 });
  // A question that cannot be asked takes nothing off the page.
  await page.getByLabel('Find a clip').fill('founder');
  await expect(page.getByRole('treeitem', { name: 'Heard by all' })).toBeVisible();
  await page.getByLabel('Find a clip').fill('');
  await demo.start();
  // Told to nobody: the page was not listening.
  await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Made meanwhile' });
  await expect(strip(page)).not.toContainText('No word', { timeout: 15_000 });
  await expect(page.getByRole('treeitem', { name: 'Made meanwhile' })).toBeVisible();
});

test('a server that hangs is noticed too', async () => {
  await expect(strip(page)).toContainText('Nothing is running');
  demo.hold();
  await expect(strip(page)).toContainText('No word from the server', { timeout: 20_000 });
  demo.goOn();
  await expect(strip(page)).toContainText('Nothing is running', { timeout: 20_000 });
});

test('a run that ended while the line was lost does not go on for ever', async () => {
  await page.goto(path('runs'));
  // A run that is paused is known as going on; it is cancelled while the page hears nothing.
  const held = await pausedPull(ask, project, 'Held');
  await expect(strip(page)).toContainText('paused');
  await expect(strip(page).getByRole('link')).toHaveAttribute('href', `/p/${project}/runs?run=${held}`);
  await demo.kill();
  await expect(strip(page)).toContainText('No word', { timeout: 20_000 });
  await demo.start();
  await ask(`runs/${held}/cancel`, {});
  await ask(`runs/${held}?wait=end`);
  await expect(strip(page)).toContainText('Nothing is running', { timeout: 20_000 });
  await expect(page.getByRole('grid', { name: 'Runs' }).getByRole('row').nth(1)).toContainText('cancelled');
});

test('the strip names the project of a run, does not flash at changes elsewhere', async () => {
  const { id: other } = await ask<{ id: string }>(`projects/${project}/duplicate`, {});
  await page.goto(path('overview'));
  const id = await pausedPull(ask, other, 'Of the copy');
  await expect(strip(page)).toContainText('Bronze Hour copy');
  await expect(strip(page).getByRole('link')).toHaveAttribute('href', `/p/${other}/runs?run=${id}`);
  // Changes elsewhere: the strip says the same all the time.
  await page.evaluate(() => {
    const seen: string[] = [];
    Object.assign(window, { seen });
    const look = () => (seen.push(document.querySelector('.strip')?.textContent ?? ''), requestAnimationFrame(look));
    look();
  });
  for (let index = 0; index < 4; index++) {
    await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: `Change ${index}` });
    await page.waitForTimeout(500);
  }
  const seen = await page.evaluate(() => (window as unknown as { seen: string[] }).seen);
  expect(seen.length).toBeGreaterThan(20);
  expect(seen.filter((text) => !text.includes('Bronze Hour copy'))).toEqual([]);
  await ask(`runs/${id}/cancel`, {});
  await ask(`runs/${id}?wait=end`);
  expect(await runPlan(ask, 'export', project, {
    timelineIds: [await timelineId(ask, project, 'Trailer 30s')],
    format: 'edl',
    destination: { shelfId: await shelfId(ask, 'TRAVEL-SSD'), path: '' },
    folderName: 'Lists',
  })).toBeGreaterThan(id); // prettier-ignore
  await expect(strip(page)).toContainText('Nothing is running');
});
