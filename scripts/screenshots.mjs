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
  await page.waitForLoadState('networkidle').catch(() => undefined);
  await page.waitForTimeout(500);
};
const stage = (name) => () => open(`/p/${project.id}/${name}`);
const click = (selector) => page.locator(selector).first().click();

const shots = {
  projects: () => open('/'),
  overview: stage('overview'),
  timelines: async () => {
    await stage('timelines')();
    await page.locator('.canvas-scroll').click({ position: { x: 330, y: 95 } });
    await page.waitForTimeout(600);
  },
  shelves: stage('shelves'),
  relink: stage('relink'),
  pull: stage('pull'),
  crates: stage('crates'),
  'crates-made': async () => {
    await stage('crates')();
    await click('text=Crates made');
    await page.waitForTimeout(400);
    await click('.table .row');
    await page.waitForTimeout(400);
  },
  'crates-open': async () => {
    await stage('crates')();
    await click('text=Open a crate');
    await page.waitForTimeout(400);
    await page.getByRole('button', { name: 'TRAVEL-SSD' }).click();
    await page.locator('.folder-row', { hasText: 'a crate' }).click({ timeout: 5000 });
    await page.getByRole('button', { name: 'Take this folder' }).click();
    await page.waitForTimeout(900);
  },
  runs: stage('runs'),
};

for (const [name, make] of Object.entries(shots)) {
  if (values.only && !values.only.split(',').includes(name)) continue;
  await make().catch((error) => console.error(name, error.message.split('\n')[0]));
  await page.screenshot({ path: `${values.to}/${name}.png` });
}
await browser.close();
