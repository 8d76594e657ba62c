/** How this server does: for whoever looks after the machine. */
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../errors/problem';
import type { House } from './use-case';

const LOOPBACK = /^(?:127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;
const NS_PER_MS = 1e6;

const delay = monitorEventLoopDelay({ resolution: 20 });
delay.enable();

/** `from`: address of whoever asks; figures of a machine are for that machine alone. Throws Problem for others. */
export async function healthOf(house: House, from: string) {
  if (!LOOPBACK.test(from)) throw new Problem('refused', 'How this server does is told on its own machine alone.');
  const { catalogue, config, runner } = house;
  const memory = process.memoryUsage();
  const ms = (ns: number) => Math.round((ns / NS_PER_MS) * 10) / 10;
  return {
    ok: true,
    upSeconds: Math.round(process.uptime()),
    memory: { residentBytes: memory.rss, heapBytes: memory.heapUsed },
    /** How long the event loop was held up, of all looks since the last one here. */
    eventLoop: lookAtLoop(ms),
    catalogue: { schema: catalogue.schema, bytes: statSync(join(config.dataFolder, 'catalogue.sqlite'), { throwIfNoEntry: false })?.size ?? 0 },
    runs: runner.liveIds().map((id) => ({ id, ...runner.progress(id)! })),
    ...house.workNow(),
    caches: await house.caches.now(),
  };
}

function lookAtLoop(ms: (ns: number) => number) {
  const seen = { medianMs: ms(delay.percentile(50)), p99Ms: ms(delay.percentile(99)), mostMs: ms(delay.max) };
  delay.reset();
  return seen;
}
