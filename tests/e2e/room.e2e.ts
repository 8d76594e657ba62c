/** Every screen at every size: nothing outside of the window, lists of eight rows at least, long names cut with the whole on hover. */
import { expect, test, type BrowserContext, type Page } from '@playwright/test';
import { asker, makeCrate, pullParts, type Ask } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';
import { overflowing, rowsInSight } from '../helpers/overflow';

let demo: DemoServer;
let ask: Ask;
let project = '';

/** 150 % of 1280 × 800 is a window of 853 × 533. */
const SIZES = [
  { name: '1024×768', width: 1024, height: 768 },
  { name: '1280×800', width: 1280, height: 800 },
  { name: '1920×1080', width: 1920, height: 1080 },
  { name: '150 % of 1280×800', width: 853, height: 533 },
];
const SCREENS = [
  'overview',
  'timelines',
  'timelines?list=events',
  'timelines?view=usage',
  'timelines?view=usage&of=never',
  'timelines?view=bins',
  'timelines?view=versions',
  'shelves',
  'sort',
  'relink',
  'pull',
  'proxies',
  'proxies?view=found',
  'proxies?view=along',
  'proxies?view=exchange',
  'proxies?view=generations',
  'proxies?view=finish',
  'crates',
  'crates?view=made',
  'crates?view=open',
  'crates?view=decode',
  'runs',
];
const LONG = 'The long evening at the foundry when the second bell was poured and nobody spoke '.repeat(3).slice(0, 200).trim();

test.beforeAll(async () => {
  demo = await startDemo();
  ask = asker(demo);
  [{ id: project }] = await ask<[{ id: string }]>('projects');
  await makeCrate(ask, project, 'Room');
  await pullParts(ask, project, 'Room pulled');
  // As long as names may be, everywhere.
  await ask(`projects/${project}`, { name: LONG }, 'PATCH');
  for (const name of [LONG, `Another ${LONG}`.slice(0, 200)]) await ask(`projects/${project}/bins`, { do: 'make-bin', parent: '', name });
  const { rows } = await ask<{ rows: { id: string }[] }>(`projects/${project}/clips?limit=3`);
  await ask(`projects/${project}/bins`, { do: 'change-clips', clipIds: rows.map(({ id }) => id), change: { name: LONG, binPath: LONG } });
  for (let index = 0; index < 12; index++) await ask(`projects/${project}/timelines`, { name: `${index} ${LONG}.edl`.slice(-200), text: `TITLE: ${index} ${LONG.slice(0, 150)}\nFCM: NON-DROP FRAME\n\n001  A001     V     C        09:14:00:00 09:14:02:00 01:00:00:00 01:00:02:00\n* FROM CLIP NAME: ${LONG.slice(0, 60)}\n` }); // prettier-ignore
});
test.afterAll(() => demo.stop());

const open = async (page: Page, path: string) => {
  await page.goto(`${demo.address}${path}`);
  await page.locator('[data-ready]').waitFor();
  await expect(page.locator('[aria-busy=true]'), path).toHaveCount(0);
};

test('nothing overflows, at whatever size', async ({ browser }) => {
  const context: BrowserContext = await browser.newContext();
  const page = await context.newPage();
  const found: string[] = [];
  const look = async (screen: string) => {
    // What follows the size of the window has followed it.
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    for (const words of await page.evaluate(overflowing)) found.push(`${screen}: ${words}`);
    for (const list of await page.evaluate(rowsInSight))
      if (list.inSight < Math.min(8, list.rows)) found.push(`${screen}: ${list.name} shows ${list.inSight} of ${list.rows} rows`);
  };
  for (const screen of ['', ...SCREENS]) {
    await page.setViewportSize(SIZES[0]!);
    await open(page, screen === '' ? '' : `p/${project}/${screen}`);
    for (const { name, width, height } of SIZES) {
      await page.setViewportSize({ width, height });
      const list = page.getByRole('grid').last();
      if (screen !== '' && (await list.count()) > 0 && (await list.getByRole('row').count()) > 1)
        await list
          .getByRole('row')
          .nth(1)
          .click({ position: { x: 60, y: 17 } });
      await look(`${screen || 'projects'} at ${name}`);
      const fold = page.getByRole('button', { name: 'Plan sheet' });
      if ((await fold.count()) === 0) continue;
      if ((await fold.getAttribute('aria-expanded')) === 'false') await fold.click();
      await look(`${screen} with its sheet at ${name}`);
      await fold.click();
    }
  }
  await context.close();
  expect(found).toEqual([]);
});

test('a name that is cut is whole on hover and where the keyboard is', async ({ browser }) => {
  const page = await browser.newPage();
  await open(page, `p/${project}/timelines?view=bins`);
  await expect(page.locator('.project-name a')).toHaveAttribute('title', new RegExp(LONG));
  const bin = page.getByRole('treeitem', { name: new RegExp(`^${LONG.slice(0, 40)}`) });
  await expect(bin).toHaveAttribute('title', LONG);
  const cut = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('.stage *, header *, .sheet *')]
      .filter((node) => getComputedStyle(node).textOverflow === 'ellipsis' && node.scrollWidth > node.clientWidth + 1 && node.innerText.length > 60)
      .filter((node) => !node.closest('[title]') && !node.querySelector('[title]') && !node.matches('input'))
      .map((node) => node.innerText.slice(0, 60)),
  );
  expect(cut).toEqual([]);
  await page.close();
});
