import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'tests/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // Real ffmpeg runs beside each other starve on two cores.
    maxWorkers: 2,
  },
});
