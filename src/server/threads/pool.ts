/** Pools of worker threads, one by each name: heavy reading, hashing and parsing happen there, never on the server's event loop. */
import type { TransferListItem } from 'node:worker_threads';
import Tinypool from 'tinypool';
import { workerFile } from './worker-file';

/**
 * Of one thread. One that needs more is ended, and another takes its place. From 2048 on a thread lets its heap grow to
 * four times what it holds before it looks for what is no longer needed; below that, to twice.
 */
export const MOST_MEGABYTES = 2000;

export interface Threads {
  /** Of the worker's file, and of the pool where a worker has several. */
  readonly worker: string;
  readonly lane?: string;
  readonly most: number;
  /** One is there at all times: it keeps what it has read. */
  readonly staysWarm?: boolean;
  /** Waits awake: it gives back what it no longer needs while nobody asks. */
  readonly waitsAwake?: boolean;
}

const pools = new Map<string, Tinypool>();

function poolOf({ worker, lane = '', most, staysWarm, waitsAwake }: Threads): Tinypool {
  const key = `${worker} ${lane}`;
  const standing = pools.get(key);
  if (standing) return standing;
  const made = new Tinypool({
    filename: workerFile(worker),
    minThreads: staysWarm ? 1 : 0,
    maxThreads: most,
    idleTimeout: 30_000,
    useAtomics: !waitsAwake,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES, maxYoungGenerationSizeMb: 8 },
  });
  pools.set(key, made);
  return made;
}

/** What the worker answers. With `signal` aborted, a job that waits is dropped and one in hand is ended with its thread. `handedOver`: what of the job is the worker's from then on. */
export async function inThread<Answer>(threads: Threads, job: object, signal?: AbortSignal, handedOver: TransferListItem[] = []): Promise<Answer> {
  return (await poolOf(threads).run(job, { transferList: handedOver, ...(signal ? { signal } : {}) })) as Answer;
}

/** How many jobs wait in each pool, by its name. */
export function waitingJobs(): Record<string, number> {
  return Object.fromEntries([...pools].map(([key, pool]) => [key.trim(), pool.queueSize]));
}

/** Rejects with the error that came back as a value: classes do not cross threads. */
export function orThrow<T extends object>(answer: T | { readonly error: { readonly code: string; readonly message: string } }): T {
  if ('error' in answer) throw Object.assign(new Error(answer.error.message), { code: answer.error.code });
  return answer;
}

export async function closeThreads(): Promise<void> {
  await Promise.all([...pools.values()].map((entry) => entry.destroy()));
  pools.clear();
}
