import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'tests/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // Many tests wait for processes and drives: one more than the two cores of a small machine. Four starve each other.
    maxWorkers: 3,
    // Files of one worker share what they load: loading took as long as a third of the tests.
    isolate: false,
  },
});
