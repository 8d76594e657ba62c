import { defineConfig } from '@playwright/test';

const ALONE = /(hands|lists|line|timelines)\.e2e\.ts/;

export default defineConfig({
  globalSetup: './tests/e2e/make-demo-once.ts',
  testDir: 'tests/e2e',
  testMatch: '**/*.e2e.ts',
  // They wait more than they reckon: two cores are busy with three of them.
  workers: 3,
  // What watches the keyboard by the moment or times frames has the machine for itself, after all that can share it.
  projects: [
    { name: 'beside', testIgnore: ALONE },
    { name: 'alone', testMatch: ALONE, workers: 1, dependencies: ['beside'] },
  ],
  timeout: 180_000,
  expect: { timeout: 30_000 },
  use: {
    actionTimeout: 30_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
});
