/** The worker threads: heavy reading, hashing and parsing happen here, never on the server's event loop. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import Tinypool from 'tinypool';
import type { CopyAnswer, CopyJob, CopyResult } from './copy.worker';
import { Problem } from '../api/problem';
import type { StepOutcome } from '../catalogue/runs';
import type { Config } from '../config';
import { StepFailure } from '../runs/explain-error';
import type { ChangeAnswer, ChangeJob } from './change.worker';
import { readyJson, type ReadyJson } from '../ready-json';
import type { Question } from '../study';
import type { StudyAnswer, StudyJob } from './study.worker';
import type { ZipAnswer, ZipJob } from './zip.worker';

function workerFile(name: string): string {
  const beside = fileURLToPath(new URL(`./workers/${name}.mjs`, import.meta.url));
  return existsSync(beside) ? beside : resolve('dist/workers', `${name}.mjs`);
}

/** A paused run keeps its threads asleep with their half-made files; the shelves, not the threads, bound what goes on. */
const COPY_THREADS = 64;

/**
 * Of one thread. One that needs more is ended, and another takes its place. From 2048 on a thread lets its heap grow to
 * four times what it holds before it looks for what is no longer needed; below that, to twice.
 */
const MOST_MEGABYTES = 2000;

const pools = new Map<string, Tinypool>();

function pool(name: string, threads: number, lane: keyof typeof LANES | '' = ''): Tinypool {
  const key = `${name} ${lane}`;
  const standing = pools.get(key);
  if (standing) return standing;
  // Threads that look at projects keep what they have read, and are there at once.
  const made = new Tinypool({
    filename: workerFile(name),
    minThreads: lane === '' || lane === 'read' ? 0 : 1,
    maxThreads: threads,
    idleTimeout: 30_000,
    // A thread that waits asleep could not give back what it no longer needs.
    useAtomics: name !== 'study',
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES, maxYoungGenerationSizeMb: 8 },
  });
  pools.set(key, made);
  return made;
}

/** Rejects with the error that came back as a value. */
function orThrow<T extends object>(answer: T | { readonly error: { readonly code: string; readonly message: string } }): T {
  if ('error' in answer) throw Object.assign(new Error(answer.error.message), { code: answer.error.code });
  return answer;
}

/** Copies, hashes and compares in a worker thread; see copy.worker.ts. Rejects with the file system's error. */
export async function runCopy(job: CopyJob): Promise<CopyResult> {
  return orThrow((await pool('copy', COPY_THREADS).run(job)) as CopyAnswer);
}

/** Packs or unpacks in a worker thread, then reads back what was written; see zip.worker.ts. */
export async function runZip(job: ZipJob): Promise<CopyResult> {
  const written = orThrow((await pool('zip', COPY_THREADS).run(job)) as ZipAnswer);
  if (written.stopped) return written;
  const back = await runCopy({ write: null, target: job.target, control: job.control });
  if (!back.stopped && back.sha256 !== written.sha256)
    throw Object.assign(new Error('what was read back differs from what was written'), { code: 'EREADBACK' });
  return back;
}

/** Makes a change of the catalogue that a run has come to; see change.worker.ts. Rejects as the step would. */
export async function runChange(config: Config, runId: number, ordinal: number): Promise<StepOutcome> {
  return (await askChange({ config, runId, ordinals: [ordinal] }))!;
}

/** Makes many, all in one transaction; what becomes of each is in the journal. */
export async function runChanges(config: Config, runId: number, ordinals: readonly number[]): Promise<void> {
  await askChange({ config, runId, ordinals });
}

/** Moves files within file systems; gives those that must be copied. What becomes of each is in the journal. */
export async function runMoves(config: Config, runId: number, ordinals: readonly number[]): Promise<readonly number[]> {
  const answer = orThrow((await pool('change', 1).run({ config, runId, ordinals } satisfies ChangeJob)) as ChangeAnswer);
  return 'left' in answer ? answer.left : [];
}

async function askChange(job: ChangeJob): Promise<StepOutcome | null> {
  const answer = orThrow((await pool('change', 1).run(job)) as ChangeAnswer);
  if ('failed' in answer) throw new StepFailure(answer.failed);
  return 'outcome' in answer ? answer.outcome : null;
}

/** What views, those that go through all events, plans, and files that come in may take, in lanes of their own: none holds up another. */
const LANES = { look: 60_000, events: 60_000, plan: 180_000, read: 180_000 } as const;

const EVENT_VIEWS: ReadonlySet<Question['ask']> = new Set(['timelines', 'timeline', 'usage', 'compare']);

function laneOf(question: Question): keyof typeof LANES {
  if (question.ask === 'plan' || question.ask === 'plan-rows' || question.ask === 'plan-text' || question.ask === 'enter-run') return 'plan';
  if (question.ask === 'bring-in' || question.ask === 'preview') return 'read';
  return EVENT_VIEWS.has(question.ask) ? 'events' : 'look';
}

/** Answers a question about projects as JSON; see study.ts. One that takes too long is given up, with its thread. */
export async function askStudy(config: Config, question: Question, mostMs = LANES[laneOf(question)] as number): Promise<ReadyJson> {
  const lane = laneOf(question);
  const limit = new AbortController();
  const timer = setTimeout(() => limit.abort(), mostMs);
  let answer: StudyAnswer;
  try {
    answer = (await pool('study', 1, lane).run({ config, question } satisfies StudyJob, { signal: limit.signal })) as StudyAnswer;
  } catch (error) {
    const hint = 'Try again, with fewer timelines or a smaller file.';
    if ((error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY')
      throw new Problem(503, 'too-much-memory', `This needs more than ${MOST_MEGABYTES / 1000} GB to be read.`, hint);
    if (!limit.signal.aborted) throw error;
    throw new Problem(503, 'takes-too-long', `This took longer than ${mostMs / 1000} seconds and was given up.`, hint);
  } finally {
    clearTimeout(timer);
  }
  if ('problem' in answer) {
    const { status, code, message, hint } = answer.problem;
    throw new Problem(status, code, message, hint);
  }
  return readyJson(answer.json);
}

export async function closeWorkers(): Promise<void> {
  await Promise.all([...pools.values()].map((entry) => entry.destroy()));
  pools.clear();
}
