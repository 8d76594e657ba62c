import type { Locator, Page } from '@playwright/test';

/** As a hand does it: down, a little away, on in steps, up. */
export async function drag(page: Page, from: Locator, to: Locator): Promise<void> {
  const [begin, end] = await Promise.all([centre(from), centre(to)]);
  await page.mouse.move(begin.x, begin.y);
  await page.mouse.down();
  await page.mouse.move(begin.x + 8, begin.y + 8, { steps: 3 });
  await page.mouse.move(end.x, end.y, { steps: 12 });
  // What it is over is told with the next frame: on a busy machine a hand is slower too.
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  await page.waitForTimeout(60);
  await page.mouse.up();
}

async function centre(thing: Locator): Promise<{ x: number; y: number }> {
  await thing.scrollIntoViewIfNeeded();
  const box = (await thing.boundingBox())!;
  return { x: box.x + Math.min(box.width / 2, 60), y: box.y + box.height / 2 };
}
