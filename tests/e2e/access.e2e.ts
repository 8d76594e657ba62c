/** Every screen, light and dark, against the rules of WCAG 2.2 A and AA that axe-core can check (deque axe-core, rule tags). */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { startDemo, type DemoServer } from '../helpers/demo-server';

let demo: DemoServer;
let page: Page;
let project = '';

// One page for all: what it has loaded it need not load again.
test.beforeAll(async ({ browser }) => {
  demo = await startDemo();
  page = await browser.newPage({ reducedMotion: 'reduce' });
  const [first] = (await (await fetch(`${demo.address}api/projects`)).json()) as { id: string }[];
  project = first!.id;
});
test.afterAll(async () => {
  await page.close();
  await demo.stop();
});

const STAGES = [
  'overview',
  'timelines',
  'timelines?view=usage',
  'timelines?view=bins',
  'timelines?view=versions',
  'shelves',
  'sort',
  'sort?view=trees',
  'relink',
  'pull',
  'proxies',
  'proxies?view=found',
  'proxies?view=remove',
  'proxies?view=along',
  'proxies?view=exchange',
  'proxies?view=generations',
  'proxies?view=finish',
  'crates',
  'crates?view=decode',
  'runs',
];
const DARK_TOO = new Set(['overview', 'timelines', 'timelines?view=usage', 'sort', 'relink', 'proxies', 'runs']);
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** What axe complains of on the page as it stands. */
async function complaints(page: Page, schemes: readonly ('light' | 'dark')[]): Promise<string[]> {
  const found: string[] = [];
  for (const colorScheme of schemes) {
    await page.emulateMedia({ colorScheme });
    await expect(page.locator('html')).toHaveAttribute('data-mantine-color-scheme', colorScheme);
    // What does not depend on colours is the same in the dark.
    // There is one document, which the older way of running looks at in half the time; rows are all of a kind.
    const all = new AxeBuilder({ page }).setLegacyMode(true).exclude('.row:nth-child(n+9)');
    const axe = colorScheme === 'light' ? all.withTags(TAGS) : all.withRules(['color-contrast', 'link-in-text-block']);
    const { violations } = await axe.analyze();
    for (const { id, nodes } of violations)
      found.push(...nodes.map((node) => `${colorScheme}: ${id} at ${node.target.join(' ')} ${node.html.slice(0, 160)}`));
  }
  return found;
}

// A screen at a time: all of them together take minutes on a slow machine.

test('nothing to complain of: projects, and a new one', async () => {
  await page.goto(demo.address);
  await page.locator('.row').first().waitFor();
  expect(await complaints(page, ['light', 'dark'])).toEqual([]);
  await page.getByRole('button', { name: 'New project' }).click();
  await page.getByRole('dialog').waitFor();
  expect(await complaints(page, ['light'])).toEqual([]);
});

for (const stage of STAGES)
  test(`nothing to complain of: ${stage}`, async () => {
    await page.goto(`${demo.address}p/${project}/${stage}`);
    await page.locator('[data-ready]').waitFor();
    await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
    // Colours are tokens, the same on every screen: those with most kinds of them are looked at in the dark too.
    expect(await complaints(page, DARK_TOO.has(stage) ? ['light', 'dark'] : ['light'])).toEqual([]);
  });

test('nothing to complain of: the choice of columns', async () => {
  await page.goto(`${demo.address}p/${project}/pull`);
  await page.locator('.row').first().waitFor();
  await page.getByRole('button', { name: 'Columns of What is taken' }).click();
  await page.getByRole('checkbox', { name: 'Keeps' }).waitFor();
  expect(await complaints(page, ['light'])).toEqual([]);
});
