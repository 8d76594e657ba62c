/** Copying, hashing, packing and unpacking in worker threads. */
import { inThread, orThrow } from '../threads/pool';
import type { CopyAnswer, CopyJob, CopyResult } from './copy.worker';
import type { ZipAnswer, ZipJob } from './zip.worker';

/** A paused run keeps its threads asleep with their half-made files; the shelves, not the threads, bound what goes on. */
const MOST_THREADS = 64;

/** Copies, hashes and compares; see copy.worker.ts. Rejects with the file system's error. */
export async function runCopy(job: CopyJob): Promise<CopyResult> {
  return orThrow(await inThread<CopyAnswer>({ worker: 'copy', most: MOST_THREADS }, job));
}

/** Packs or unpacks, then reads back what was written; see zip.worker.ts. */
export async function runZip(job: ZipJob): Promise<CopyResult> {
  const written = orThrow(await inThread<ZipAnswer>({ worker: 'zip', most: MOST_THREADS }, job));
  if (written.stopped) return written;
  const back = await runCopy({ write: null, target: job.target, control: job.control });
  if (!back.stopped && back.sha256 !== written.sha256)
    throw Object.assign(new Error('what was read back differs from what was written'), { code: 'EREADBACK' });
  return back;
}
