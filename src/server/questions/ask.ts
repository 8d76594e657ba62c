/** Questions about projects go to worker threads, in lanes, each with its queue; see study.ts. */
import PQueue from 'p-queue';
import type { Config } from '../config';
import { fromPlain, Problem } from '../errors/problem';
import { log, logged } from '../log/log';
import { HeldUp } from '../stock/held-up';
import { inThread, MOST_MEGABYTES } from '../threads/pool';
import { silentDrives } from '../threads/silent-drives';
import { gone } from '../threads/who-waits';
import { LANES, type Lane } from './question';
import { questionOf, type AnswerTo, type Question } from './questions';
import { readyJson, type ReadyJson } from './ready-json';
import type { StudyAnswer, StudyJob } from './study.worker';

/** What takes longer is noted in the log. */
const SLOW_MS = 2_000;

const queues = new Map<Lane, PQueue>();

function queueOf(lane: Lane): PQueue {
  const queue = queues.get(lane) ?? new PQueue({ concurrency: 1 });
  queues.set(lane, queue);
  return queue;
}

/** How often a house was closed in this process. */
let closed = 0;

/** The house closes: what waits is not begun any more, and what is in hand ends with its thread. */
export function dropWaiting(): void {
  closed++;
  for (const queue of queues.values()) queue.clear();
}

/** How many questions wait in each lane, and how many are being answered. */
export function lanesNow(): Record<string, { readonly waiting: number; readonly working: number }> {
  return Object.fromEntries([...queues].map(([lane, queue]) => [lane, { waiting: queue.size, working: queue.pending }]));
}

/**
 * Answers a question about projects as JSON. One that takes too long is given up, with its thread; one that nobody waits for any
 * more goes from its queue, unless it changes something.
 */
export async function askStudy<Q extends Question>(config: Config, question: Q, ownLimitMs?: number): Promise<ReadyJson<AnswerTo<Q['ask']>>> {
  const { lane, weight = 0, changes } = questionOf(question.ask);
  const mostMs = ownLimitMs ?? LANES[lane];
  const limit = new AbortController();
  const timer = setTimeout(() => limit.abort(), mostMs);
  const left = changes ? undefined : gone();
  const begun = Date.now();
  const closedBefore = closed;
  const isDropped = () => left?.aborted === true || limit.signal.aborted;
  try {
    // Looked at when its turn comes, not raced with: the lane is taken until its thread is free again.
    const turn = queueOf(lane).add(async () => (isDropped() ? null : inLane(config, question, lane, limit.signal, changes === true)), {
      priority: weight,
    });
    const answer = await Promise.race([turn, ended(limit.signal)]);
    return readyJson(orThrow(answer));
  } catch (error) {
    if (closed !== closedBefore) throw new Problem('takes-too-long', 'The server was closed meanwhile.', 'Start it, then try again.');
    const hint = 'Try again, with fewer timelines or a smaller file.';
    if ((error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY')
      throw new Problem('too-much-memory', `This needs more than ${MOST_MEGABYTES / 1000} GB to be read.`, hint);
    if (limit.signal.aborted) throw new Problem('takes-too-long', `This took longer than ${mostMs / 1000} seconds and was given up.`, hint);
    throw error;
  } finally {
    clearTimeout(timer);
    const ms = Date.now() - begun;
    if (ms > SLOW_MS) logged({ question: question.ask }, () => log.info({ ms, lane }, 'a slow answer'));
  }
}

/**
 * One in hand is not ended where nobody waits any more: its thread keeps what it has read. Where a drive falls silent
 * meanwhile that the thread waits for, it is asked again without that drive, unless it changes something.
 */
async function inLane(config: Config, question: Question, lane: Lane, limit: AbortSignal, changes: boolean): Promise<StudyAnswer> {
  const threads = { worker: 'study', lane, most: 1, staysWarm: lane !== 'read', waitsAwake: true };
  for (;;) {
    const held = new HeldUp();
    try {
      const job: StudyJob = { config, question, silent: silentDrives.now(), touch: held.touch };
      return await inThread<StudyAnswer>(threads, job, AbortSignal.any([limit, held.signal]));
    } catch (error) {
      if (!held.signal.aborted || limit.aborted) throw error;
      if (changes) throw new Problem('unplugged', 'A drive did not answer, so this was given up.', 'Look at the drive, then try again.');
    } finally {
      held.end();
    }
  }
}

/** Rejects when the signal is given. */
function ended(signal: AbortSignal): Promise<never> {
  return new Promise((_, fail) => signal.addEventListener('abort', () => fail(new Error('ended')), { once: true }));
}

/** Nothing comes of what was dropped. */
function orThrow(answer: StudyAnswer | null | void): string {
  if (!answer) throw new Problem('takes-too-long', 'Nobody waits for this any more.');
  if ('problem' in answer) throw fromPlain(answer.problem);
  return answer.json;
}
