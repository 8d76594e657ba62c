/** The demo, opened in a page of its own: what the browser tests of one subject share. */
import type { Browser, Page } from '@playwright/test';
import { asker, type Ask } from './ask';
import { startDemo, type DemoServer } from './demo-server';

export interface DemoPage {
  readonly demo: DemoServer;
  readonly page: Page;
  readonly ask: Ask;
  /** Of the project that comes with it. */
  readonly project: string;
  /** Opens a stage by its address below the project, and waits for its frame. */
  readonly go: (stage: string) => Promise<void>;
  readonly close: () => Promise<void>;
}

/** A mistake in a script of the page fails the test that is going on. */
export async function openDemo(browser: Browser): Promise<DemoPage> {
  const demo = await startDemo();
  const page = await browser.newPage();
  page.on('pageerror', (error) => {
    throw error;
  });
  const ask = asker(demo);
  const [{ id: project }] = await ask<[{ id: string }]>('projects');
  const go = async (stage: string) => {
    await page.goto(`${demo.address}p/${project}/${stage}`);
    await page.locator('[data-ready]').waitFor();
  };
  const close = async () => {
    await page.close();
    await demo.stop();
  };
  return { demo, page, ask, project, go, close };
}
