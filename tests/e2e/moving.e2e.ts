/** From stage to stage: the page stays, and a stage one comes back to is as it was left. */
import { expect, test, type Page } from '@playwright/test';
import type { Ask } from '../helpers/ask';
import { openDemo, type DemoPage } from '../helpers/demo-page';

test.describe.configure({ mode: 'serial' });

let opened: DemoPage;
let ask: Ask;
let page: Page;
let project = '';
const asked: string[] = [];

test.beforeAll(async ({ browser }) => {
  opened = await openDemo(browser);
  ({ ask, page, project } = opened);
  page.on('request', (request) => asked.push(request.url()));
});
test.afterAll(() => opened.close());

const go = async (stage: string) => {
  await opened.go(stage);
  await page.evaluate(() => Object.assign(globalThis, { isSamePage: true }));
};
const rail = (name: string) => page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name });
const heading = async (name: string) => {
  await expect(page).toHaveTitle(`${name} · Mill Shelf`);
  await expect(rail(name)).toHaveAttribute('aria-current', 'page');
};
const isSamePage = () => page.evaluate(() => 'isSamePage' in globalThis);

test('what a stage asks first came with its page', async () => {
  await go('timelines');
  await expect(page.getByRole('grid', { name: 'Timelines' }).getByRole('row').nth(1)).toBeVisible();
  asked.length = 0;
  await go('timelines');
  await expect(page.getByRole('grid', { name: 'Timelines' }).getByRole('row').nth(1)).toBeVisible();
  const sent = await page.evaluate(() => Object.keys(JSON.parse(document.getElementById('first-answers')!.textContent) as object));
  expect(sent).not.toEqual([]);
  const paths = asked.map((url) => url.split('/api/')[1] ?? '');
  expect(sent.filter((path) => paths.includes(path))).toEqual([]);
});

test('stages change, the page stays; ways back lead through them', async () => {
  await go('overview');
  asked.length = 0;
  await rail('Relink').click();
  await heading('Relink');
  await expect(page).toHaveURL(/\/relink$/);
  await expect(rail('Relink')).toBeFocused();
  await page.keyboard.press('4');
  await heading('Pull');
  await page.goBack();
  await heading('Relink');
  await page.goBack();
  await heading('Overview');
  await page.goForward();
  await heading('Relink');
  // By the palette too, to one thing in another stage.
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find anything' }).fill('Proxies');
  await page.getByRole('button', { name: /^Proxies/ }).click();
  await heading('Proxies');
  expect(await isSamePage()).toBe(true);
  expect(asked.filter((url) => new URL(url).pathname.startsWith('/p/'))).toEqual([]);
  // A second page is opened beside, as in any other place.
  const [beside] = await Promise.all([page.context().waitForEvent('page'), rail('Runs').click({ modifiers: ['Control'] })]);
  await expect(beside).toHaveURL(/\/runs$/);
  await beside.close();
  await heading('Proxies');
});

test('a stage one comes back to is as it was left', async () => {
  await go('timelines?view=bins');
  const clips = page.getByRole('grid', { name: 'Clips' });
  await clips.getByRole('checkbox').nth(2).check();
  await clips.getByRole('checkbox').nth(3).check();
  const find = page.getByRole('textbox', { name: 'Find a clip' });
  // At once: what was typed belongs to this stage, not to the next.
  await find.fill('am');
  await rail('Shelves').click();
  await heading('Shelves');
  expect(new URL(page.url()).search).toBe('');
  await rail('Timelines').click();
  await expect(find).toHaveValue('am');
  await find.fill('a');
  const scroll = () => clips.evaluate((element) => element.scrollTop);
  // As soon as the longer list is there.
  await expect.poll(() => clips.evaluate((element) => ((element.scrollTop = 100), element.scrollTop))).toBe(100);
  await rail('Crates').click();
  await heading('Crates');
  await rail('Timelines').click();
  await expect(find).toHaveValue('a');
  await expect.poll(scroll).toBe(100);
  await find.fill('');
  await expect(
    clips
      .getByRole('row', { selected: true })
      .or(clips.getByRole('checkbox', { checked: true }))
      .first(),
  ).toBeVisible();
  expect(await clips.getByRole('checkbox', { checked: true }).count()).toBe(2);
  expect(await isSamePage()).toBe(true);
});

test('a choice made just before going is kept; what is led to is what was chosen', async () => {
  await go('pull');
  const handles = page.getByRole('textbox', { name: 'Head' });
  await handles.fill('17');
  await rail('Runs').click();
  await heading('Runs');
  await rail('Pull').click();
  await expect(handles).toHaveValue('17');
  await page.reload();
  await expect(handles).toHaveValue('17');
  await go('timelines?view=bins');
  await page.getByRole('grid', { name: 'Clips' }).getByRole('checkbox').nth(1).check();
  await page.getByRole('button', { name: 'More for these clips' }).click();
  await page.getByRole('menuitem', { name: /Sort 1 ticked clip/ }).click();
  await heading('Sort');
  await expect(page.getByRole('textbox', { name: 'What is sorted' })).toHaveValue('1 chosen clip');
});

test('what is being typed is kept when one goes by the way back', async () => {
  await go('runs');
  await rail('Timelines').click();
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Bins and clips').click();
  await page.getByRole('grid', { name: 'Clips' }).getByRole('row').nth(1).click();
  const note = page.getByRole('textbox', { name: 'Note' });
  await note.fill('typed and left');
  await page.evaluate(() => window.history.go(-2));
  await heading('Runs');
  await expect
    .poll(async () => (await ask<{ rows: { note: string }[] }>(`projects/${project}/clips`)).rows.map(({ note: own }) => own))
    .toContain('typed and left');
});

test('a server of another version is asked for its own page', async () => {
  await go('overview');
  await page.route(/_astro\/Crates\.\w/, (route) => route.fulfill({ status: 404, body: '' }));
  await rail('Crates').click();
  await page.unroute(/_astro\/Crates\.\w/);
  await expect(page).toHaveURL(/\/crates$/);
});
