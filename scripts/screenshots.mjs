// Pictures of every main view, from a running instance with the demo data.
//   node scripts/screenshots.mjs [--to FOLDER] [--only NAME] [--scheme dark] [--size 1920x1080] [--address URL]
import { chromium } from '@playwright/test';
import { mkdirSync } from 'node:fs';
import { parseArgs } from 'node:util';

const { values } = parseArgs({
  options: {
    to: { type: 'string', default: 'docs/screenshots' },
    only: { type: 'string' },
    scheme: { type: 'string', default: 'light' },
    size: { type: 'string', default: '1280x800' },
    address: { type: 'string', default: 'http://127.0.0.1:4780' },
  },
});
const [width, height] = values.size.split('x').map(Number);
mkdirSync(values.to, { recursive: true });
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
});
const page = await browser.newPage({ viewport: { width, height }, colorScheme: values.scheme });
page.on('console', (message) => message.type() === 'error' && console.error('page:', message.text()));
page.on('pageerror', (error) => console.error('page:', error.message));
const projects = await (await fetch(`${values.address}/api/projects`)).json();
const project = projects.find((entry) => entry.name === 'Bronze Hour');

const open = async (path) => {
  await page.goto(values.address + path);
  await page.waitForSelector('[data-ready]');
  await page.waitForFunction(() => document.querySelector('[aria-busy=true]') === null);
  await page.waitForTimeout(500);
};
const stage = (name) => () => open(`/p/${project.id}/${name}`);
const click = (selector) => page.locator(selector).first().click();

const shots = {
  projects: () => open('/'),
  overview: stage('overview'),
  timelines: async () => {
    await stage('timelines')();
    await page.locator('.canvas-scroll').focus();
    await page.keyboard.press('Enter');
    for (let index = 0; index < 9; index++) await page.keyboard.press('ArrowRight');
    await page.waitForTimeout(600);
  },
  'timelines-usage': async () => {
    await stage('timelines?view=usage')();
    await page.getByText('A001_C003.mov').click();
    await page.waitForTimeout(600);
  },
  'timelines-bins': async () => {
    await stage('timelines?view=bins')();
    await page.getByRole('treeitem', { name: /Interviews/ }).click();
    await page.getByRole('grid', { name: 'Clips' }).getByText('The founder').click();
    await page.waitForTimeout(900);
  },
  'timelines-versions': stage('timelines?view=versions'),
  shelves: stage('shelves'),
  'shelves-check': async () => {
    const shelves = await (await fetch(`${values.address}/api/shelves`)).json();
    await open(`/p/${project.id}/shelves?check=${shelves.find(({ name }) => name === 'FOUNDRY-A').id}`);
  },
  sort: async () => {
    await stage('sort')();
    await page.getByRole('textbox', { name: 'Destination shelf' }).click();
    await page.getByRole('option', { name: /STUDIO-RAID/ }).click();
    await page.waitForTimeout(1500);
  },
  relink: stage('relink'),
  pull: stage('pull'),
  proxies: async () => {
    await stage('proxies')();
    await page.getByRole('textbox', { name: 'Preset', exact: true }).click();
    await page.getByRole('option', { name: /Pocket/ }).click();
    await page.getByRole('textbox', { name: 'Destination shelf' }).click();
    await page.getByRole('option', { name: /TRAVEL-SSD/ }).click();
    await page.waitForTimeout(1200);
    await page.getByRole('row').filter({ hasText: 'A002_C001' }).first().click();
    await page.waitForTimeout(400);
  },
  'proxies-along': async () => {
    await stage('proxies?view=along')();
    await page.getByRole('textbox', { name: 'How much goes along' }).click();
    await page.getByRole('option', { name: /The best that fits/ }).click();
    await page.getByRole('textbox', { name: 'Drive for the trip' }).click();
    await page.getByRole('option', { name: /STUDIO-RAID/ }).click();
    await page.getByRole('textbox', { name: 'At most on the drive' }).fill('18 MB');
    await page.getByRole('textbox', { name: 'Days of the trip' }).focus();
    await page.waitForTimeout(1500);
    await page.evaluate(() => document.activeElement.blur());
  },
  'proxies-generations': async () => {
    await stage('proxies?view=generations')();
    await page.getByRole('textbox', { name: 'Generations of what' }).click();
    await page.getByRole('option', { name: 'Proxies' }).click();
    await page.getByRole('gridcell', { name: 'A002_C003' }).click();
    await page.getByRole('button', { name: 'One step back' }).click();
    await page.waitForTimeout(2000);
  },
  'proxies-exchange': async () => {
    await stage('proxies?view=exchange')();
    await page.getByRole('textbox', { name: 'Where they lie' }).click();
    await page.getByRole('option', { name: /TRAVEL-SSD/ }).click();
    await page.waitForTimeout(1000);
    await page.getByRole('row').filter({ hasText: 'Polish' }).first().click();
    await page.waitForTimeout(2000);
  },
  crates: stage('crates'),
  'crates-made': async () => {
    await stage('crates')();
    await click('text=Crates made');
    await page.waitForTimeout(400);
    await page
      .locator('.table .row')
      .first()
      .click({ position: { x: 80, y: 15 } });
    await page.waitForTimeout(400);
  },
  runs: stage('runs'),
  // Last, since it puts a shelf on the list for a while.
  'timelines-bring-in': async () => {
    const shelf = await towerCards();
    const tower = projects.find((entry) => entry.name === 'Tower unit');
    await open(`/p/${tower.id}/timelines`);
    await page.getByRole('button', { name: 'Bring in', exact: true }).click();
    await page.getByRole('textbox', { name: 'Shelf', exact: true }).click();
    await page.getByRole('option', { name: 'TOWER-CARDS' }).click();
    await page.getByRole('textbox', { name: 'Timeline file' }).click();
    await page.getByRole('option', { name: /tower_cut.edl/ }).click();
    await page.getByRole('button', { name: 'Look at it' }).click();
    await page.waitForTimeout(1200);
    await page.screenshot({ path: `${values.to}/timelines-bring-in.png` });
    await ask('DELETE', `shelves/${shelf}`);
  },
};

const ask = async (method, to, body) => {
  const sent = body ? { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) } : { method };
  const response = await fetch(`${values.address}/api/${to}`, sent);
  return response.status === 204 ? null : response.json();
};

/** The cards of the second unit as a shelf, read; its id. */
async function towerCards() {
  const [{ path: root }] = (await ask('GET', 'folders')).folders.filter(({ path }) => path.endsWith('elsewhere'));
  const { id } = await ask('POST', 'shelves', { path: `${root}/TOWER-CARDS` });
  await ask('POST', `shelves/${id}/stocktake`);
  await ask('GET', `shelves/${id}/stocktake?wait=end`);
  return id;
}

for (const [name, make] of Object.entries(shots)) {
  if (values.only && !values.only.split(',').includes(name)) continue;
  await make().catch((error) => console.error(name, error.message.split('\n')[0]));
  if (name !== 'timelines-bring-in') await page.screenshot({ path: `${values.to}/${name}.png` });
}
await browser.close();
