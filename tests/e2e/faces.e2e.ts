/** Every view waiting, failed, empty and full: a slow or failed answer never looks like good news. The table is docs/views.md. */
import { readdirSync, readFileSync } from 'node:fs';
import { expect, test, type Page, type Route } from '@playwright/test';
import { asker, makeCrate } from '../helpers/ask';
import { startDemo, type DemoServer } from '../helpers/demo-server';

interface View {
  readonly name: string;
  readonly address: string;
  readonly question: string;
  readonly empty: string;
  readonly full: string;
}

const TABLE = readFileSync('docs/views.md', 'utf8')
  .split('\n')
  .filter((line) => line.startsWith('| ') && line.includes('`'))
  .map((line): View => {
    const [name, address, question, empty, full] = line.split('|').slice(1).map((cell) => cell.replaceAll('`', '').trim()); // prettier-ignore
    return { name: name!, address: address!, question: question!, empty: empty!, full: full! };
  });

let demo: DemoServer;
let page: Page;
let project = '';
let bare = '';

test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  // What comes with the page is never waited for: here everything has to be asked.
  await page.addInitScript(() => {
    new MutationObserver(() => document.getElementById('first-answers')?.remove()).observe(document, { childList: true, subtree: true });
  });
  const ask = asker(demo);
  [{ id: project }] = await ask<[{ id: string }]>('projects');
  ({ id: bare } = await ask<{ id: string }>('projects', { name: 'Nothing yet', rate: { num: 25, den: 1 }, dropFrame: false }));
  await makeCrate(ask, project);
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const at = (view: View, id: string) => demo.address.replace(/\/$/, '') + view.address.replace(':project', id);
/** The question with whatever words it is asked with, and nothing that is asked below it. */
const asked = (view: View) => new RegExp(`${view.question.replaceAll(/:\w+/g, '[^/?]+')}(\\?.*)?$`);
const words = (text: string) => page.locator('body').filter({ hasText: text });

/** What is said of an answer that has come is not said of one that has not. */
const nothingGood = async (view: View) => {
  for (const text of [
    view.empty,
    'Every clip has its media',
    'Bring in a timeline first',
    'Nothing is used',
    'Nobody else uses it',
    'No timeline uses it',
  ])
    await expect(words(text), text).toHaveCount(0);
};

test('the table names every page there is', () => {
  const pages = readdirSync('src/pages/p/[project]').map((name) => name.replace('.astro', '')).filter((name) => name !== 'index'); // prettier-ignore
  const named = new Set(TABLE.map(({ address }) => address.replace(/\?.*/, '')));
  expect([...named].sort()).toEqual(['/', ...pages.map((name) => `/p/:project/${name}`)].sort());
  expect(TABLE.length).toBeGreaterThan(15);
});

for (const view of TABLE) {
  test(`${view.name}: waiting, failed, tried again, full`, async () => {
    let open = () => {};
    const gate = new Promise<void>((resolve) => (open = resolve));
    const fail = async (route: Route) => {
      await gate;
      const body = JSON.stringify({ status: 503, code: 'busy', detail: 'The catalogue is held by something.', hint: 'Wait for its end.' });
      await route.fulfill({ status: 503, contentType: 'application/problem+json', body }).catch(() => undefined);
    };
    await page.route(asked(view), fail);
    await page.goto(at(view, project));
    await expect(page.locator('[aria-busy=true]').first()).toBeVisible();
    await nothingGood(view);
    open();
    const note = page.getByRole('alert').filter({ hasText: 'The catalogue is held by something.' }).first();
    await expect(note).toContainText('Wait for its end.');
    await nothingGood(view);
    await page.unroute(asked(view), fail);
    await note.getByRole('button', { name: 'Try again' }).click();
    await expect(words(view.full)).toHaveCount(1);
    await expect(page.getByRole('alert')).toHaveCount(0);
  });
}

test('an answer that is shown stays when a newer one cannot be had', async () => {
  await page.goto(`${demo.address}p/${project}/timelines`);
  await expect(words('Fine cut v7')).toHaveCount(1);
  await page.route('**/api/**', (route) => (route.request().method() === 'GET' ? route.fulfill({ status: 503, json: { detail: 'Held.' } }) : route.continue())); // prettier-ignore
  await asker(demo)(`projects/${project}/bins`, { do: 'make-bin', parent: '', name: 'Another bell' });
  await expect(page.getByRole('alert').first()).toContainText('could not be brought up to date');
  await expect(page.getByRole('grid', { name: 'Timelines' })).toContainText('Fine cut v7');
  await page.unroute('**/api/**');
});

test('empty: what is so, and what comes next', async () => {
  const ask = asker(demo);
  const ofHouse = (view: View) => view.empty === 'No project yet' || view.empty === 'No shelf yet';
  for (const view of TABLE.filter((entry) => !ofHouse(entry))) {
    await page.goto(at(view, bare));
    await expect(words(view.empty), view.name).toHaveCount(1);
  }
  for (const { id } of await ask<{ id: string }[]>('shelves')) await ask(`shelves/${id}`, undefined, 'DELETE');
  for (const view of TABLE.filter(({ empty }) => empty === 'No shelf yet')) {
    await page.goto(at(view, bare));
    await expect(words(view.empty), view.name).toHaveCount(1);
  }
  for (const { id } of await ask<{ id: string }[]>('projects')) await ask(`projects/${id}`, undefined, 'DELETE');
  await page.goto(demo.address);
  await expect(words('No project yet')).toHaveCount(1);
});
