/** Mistakes of ours: people get a name, the log has the stack; and who asks how the server does. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { asProblem } from '../../src/server/errors/as-problem';
import { explainError } from '../../src/server/errors/explain-error';
import { log, logged } from '../../src/server/log/log';
import { lanesNow, askStudy } from '../../src/server/questions/ask';
import { waitingJobs } from '../../src/server/threads/pool';
import { waitedFor } from '../../src/server/threads/who-waits';
import { healthOf } from '../../src/server/usecases/health';
import { makeHouse, type SmallHouse } from '../helpers/small-house';
import { bringSounds, pullSettings } from '../helpers/trust-house';

let small: SmallHouse;
beforeEach(() => {
  small = makeHouse();
});
afterEach(() => small.remove());

const mistake = () => {
  try {
    return (null as unknown as { nothing: () => string }).nothing();
  } catch (error) {
    return error;
  }
};

it('a fault of ours is told by a name alone, and stands in the log under it with its stack', () => {
  const noted = vi.spyOn(log, 'error').mockImplementation(() => undefined);
  const told = [asProblem(mistake()).message, explainError(mistake())];
  for (const words of told) expect(words).toMatch(/^A fault of ours, noted as F-[0-9a-f]{6}\./);
  expect(told.join()).not.toContain('nothing');
  const entries = noted.mock.calls.map(([entry]) => entry as { fault: string; error: Error });
  expect(entries.map(({ fault }) => fault)).toEqual(told.map((words) => /F-[0-9a-f]{6}/.exec(words)![0]));
  for (const { error } of entries) expect(error.stack).toContain('faults.test');
  noted.mockRestore();
});

it('what the system says is no fault of ours', () => {
  const full = Object.assign(new Error('ENOSPC'), { code: 'ENOSPC', syscall: 'write' });
  expect(explainError(full)).toContain('full');
  expect(explainError(Object.assign(new Error('EWEIRD: odd'), { code: 'EWEIRD', syscall: 'write' }))).toContain('It failed: EWEIRD');
  expect(asProblem(Object.assign(new Error('EACCES: /home/somebody/x'), { code: 'EACCES', syscall: 'open' })).message).not.toContain('somebody');
});

it('the log says which request, run and question a line is about', () => {
  const mixin = Object.getOwnPropertySymbols(log).find((symbol) => symbol.description === 'pino.mixin');
  const context = () => (log as unknown as Record<symbol, () => object>)[mixin!]!();
  expect(context()).toEqual({});
  expect(logged({ request: 'r1' }, () => logged({ run: 7 }, context))).toEqual({ request: 'r1', run: 7 });
});

it('how the server does is told on its own machine alone', async () => {
  await expect(healthOf(small.house, '10.0.0.7')).rejects.toMatchObject({ status: 403, code: 'refused' });
  for (const from of ['127.0.0.1', '::1', '::ffff:127.0.0.1'])
    expect(await healthOf(small.house, from)).toMatchObject({ ok: true, runs: [], catalogue: { schema: small.house.catalogue.schema } });
});

it('plans that nobody waits for any more hold nobody up; what changes something is done all the same', async () => {
  const id = await bringSounds(small, 'one.wav');
  const { config } = small.house;
  const plan = { ask: 'plan' as const, projectId: small.projectId, request: { kind: 'pull' as const, settings: pullSettings(small, id) } };
  const gone = new AbortController();
  const first = askStudy(config, plan);
  const left = Array.from({ length: 6 }, () => waitedFor(gone.signal, () => askStudy(config, plan)));
  // Whoever goes one after the other leaves as little behind.
  for (let count = 0; count < 3; count++) {
    const own = new AbortController();
    left.push(waitedFor(own.signal, () => askStudy(config, plan)));
    own.abort();
  }
  const digest = JSON.parse((await first).json) as { digest: string };
  const entered = waitedFor(gone.signal, () =>
    askStudy(config, { ask: 'enter-run', projectId: small.projectId, request: plan.request, digest: digest.digest, actor: 'somebody' }),
  );
  gone.abort();
  expect((await Promise.allSettled(left)).filter(({ status }) => status === 'rejected').length).toBeGreaterThanOrEqual(8);
  expect(lanesNow().plan!.waiting).toBeLessThanOrEqual(1);
  // Of the nine none was begun in a thread but the one that had its turn before they left.
  expect(waitingJobs()['study plan']).toBeLessThanOrEqual(1);
  const { id: runId } = JSON.parse((await entered).json) as { id: number };
  expect(small.house.catalogue.runs.get(runId)).toMatchObject({ actor: 'somebody', state: 'queued' });
});
