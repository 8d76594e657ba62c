import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'tests/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // Real ffmpeg runs beside each other starve on two cores.
    maxWorkers: 2,
    // Files of one worker share what they load: loading took as long as a third of the tests.
    isolate: false,
  },
});
