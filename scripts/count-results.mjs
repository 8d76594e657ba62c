// Adds up what the runners wrote of themselves; fails when anything failed or a runner left no result.
import { existsSync, readFileSync } from 'node:fs';

const [checksPassed, checksFailed, vitestExit, ...browserExits] = process.argv.slice(2).map(Number);
const read = (name) => (existsSync(`.setup/results/${name}.json`) ? JSON.parse(readFileSync(`.setup/results/${name}.json`, 'utf8')) : null);
const vitest = read('vitest');
const counts = [
  [checksPassed, checksFailed],
  // A file that cannot even be loaded has no tests of its own but has failed.
  vitest ? [vitest.numPassedTests, Math.max(vitest.numFailedTests, vitestExit === 0 ? 0 : 1)] : [0, 1],
  ...['beside', 'alone'].map((project, index) => {
    const stats = read(project)?.stats;
    // What did not run, because of a failure before it, is seen by the exit.
    return stats ? [stats.expected, Math.max(stats.unexpected + stats.flaky, browserExits[index] === 0 ? 0 : 1)] : [0, 1];
  }),
];
const passed = counts.reduce((sum, [ok]) => sum + ok, 0);
const failed = counts.reduce((sum, [, bad]) => sum + bad, 0);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
