/** Who works when: one writer a shelf, runs that go before others and those that give way; and how long it still takes. */
import { expect, it } from 'vitest';
import type { Step } from '../../src/core/planning/plan/step';
import type { RunPriority } from '../../src/server/catalogue/runs';
import type { LiveRun } from '../../src/server/runs/live-run';
import { secondsLeft } from '../../src/server/runs/time-left';
import { ACTIONS } from '../../src/server/actions/actions';
import { Turns } from '../../src/server/runs/turns';

it('steps of a run that goes first get their turn before those that came earlier, one that gives way after all', async () => {
  const turns = new Turns(ACTIONS);
  const order: string[] = [];
  const run = (id: number, priority: RunPriority) => ({ id, priority, paused: false, stopping: null, whenOpen: () => Promise.resolve() }) as unknown as LiveRun; // prettier-ignore
  const copy = { action: 'copy', from: { shelfId: 'A', path: 'a' }, to: { shelfId: 'B', path: 'a' } } as Step;
  let release = () => {};
  const held = turns.take(run(0, 'normal'), copy, () => new Promise((done) => (release = done)));
  await Promise.resolve();
  const asks = (['last', 'normal', 'normal', 'first', 'last', 'first'] as const).map((priority, index) =>
    turns.take(run(index + 1, priority), copy, () => {
      order.push(`${priority} ${index}`);
      return Promise.resolve();
    }),
  );
  await new Promise((done) => setTimeout(done, 10));
  // Whoever has it keeps it.
  expect([order, turns.behind(4)]).toEqual([[], 0]);
  release();
  await Promise.all([held, ...asks]);
  expect(order).toEqual(['first 3', 'first 5', 'normal 1', 'normal 2', 'last 0', 'last 4']);
});

it('the time left goes by the plan at first, by the run itself the further it is, and never below nothing', () => {
  const left = (share: number, worked: number, planned: number | null = 100, ownShare = share) => secondsLeft({ planned, share, ownShare, worked });
  expect(left(0, 0)).toBe(100);
  expect(left(0, 500)).toBe(100);
  // Twice as slow as planned: at a tenth of it still mostly planned, from a quarter on its own pace.
  expect(left(0.1, 20)).toBeCloseTo(0.4 * 180 + 0.6 * 90);
  expect(left(0.25, 50)).toBeCloseTo(150);
  expect(left(0.5, 100)).toBeCloseTo(100);
  expect(left(1, 200)).toBe(0);
  expect(left(1.2, 200)).toBe(0);
  // Taken up at its middle after a restart: what was done before says nothing of the pace.
  expect(left(0.5, 0, 100, 0)).toBe(50);
  expect(left(0.6, 40, 100, 0.1)).toBeCloseTo(0.4 * 160 + 0.6 * 40);
  expect(left(0, 0, null)).toBe(null);
  expect(left(0.5, 10, null)).toBeCloseTo(10);
});
