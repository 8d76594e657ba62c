/** The worker threads: heavy reading, hashing and parsing happen here, never on the server's event loop. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import Tinypool from 'tinypool';
import type { CopyAnswer, CopyJob, CopyResult } from './copy.worker';
import type { ReadTimelineJob } from './read-timeline.worker';
import type { TimelineFile } from '../../core/interchange/read-timeline-file';

function workerFile(name: string): string {
  const beside = fileURLToPath(new URL(`./workers/${name}.mjs`, import.meta.url));
  return existsSync(beside) ? beside : resolve('dist/workers', `${name}.mjs`);
}

let copies: Tinypool | null = null;
let readers: Tinypool | null = null;

/** Copies, hashes and compares in a worker thread; see copy.worker.ts. Rejects with the file system's error. */
export async function runCopy(job: CopyJob): Promise<CopyResult> {
  copies ??= new Tinypool({ filename: workerFile('copy'), minThreads: 0, maxThreads: 4, idleTimeout: 30_000 });
  const answer = (await copies.run(job)) as CopyAnswer;
  if ('error' in answer) throw Object.assign(new Error(answer.error.message), { code: answer.error.code });
  return answer;
}

export function readTimelineInWorker(job: ReadTimelineJob): Promise<TimelineFile> {
  readers ??= new Tinypool({ filename: workerFile('read-timeline'), minThreads: 0, maxThreads: 1, idleTimeout: 30_000 });
  return readers.run(job) as Promise<TimelineFile>;
}

export async function closeWorkers(): Promise<void> {
  await Promise.all([copies?.destroy(), readers?.destroy()]);
  copies = readers = null;
}
