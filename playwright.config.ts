import { defineConfig } from '@playwright/test';

export default defineConfig({
  globalSetup: './tests/e2e/make-demo-once.ts',
  testDir: 'tests/e2e',
  testMatch: '**/*.e2e.ts',
  workers: 1,
  timeout: 180_000,
  expect: { timeout: 15_000 },
  use: {
    actionTimeout: 20_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
});
