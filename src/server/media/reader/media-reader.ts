/**
 * Asks a process of its own, which has the library, what a file is: some 50 times faster than starting ffprobe for each.
 * Null means that ffprobe or ffmpeg is to be asked: there is no library for this system, the file is one of those on
 * which the two may differ, it took too long, or it ended the process.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { LOOK_MEMORY_BYTES } from '../ffmpeg';
import { hasMemoryLimits } from '../../outside/run-command';
import { workerFile } from '../../threads/worker-file';
import type { Probe } from '../probe-answer';
import type { Moment } from './picture-comes';
import type { SeenKeys } from '../seen-keys';
import type { Asked } from './media-reader.worker';

const PROBE_MS = 10_000;
const PICTURE_MS = 20_000;
const IDLE_MS = 30_000;
/** Of a few files ffprobe has told sooner than a process has begun. */
const FEW = 4;
/** After so many files it is begun anew: what a library loses of memory is not gathered for ever. */
const MOST_ASKED = 20_000;
/** A process that ends before it has started, so often in a row: there is no use in it. */
const MOST_FAILED_STARTS = 3;

export function probeFast(file: string): Promise<Probe | null> {
  return ask<Probe>({ probe: file }, PROBE_MS);
}

/** True where a picture came; anything else says nothing. */
export async function pictureComesFast(moment: Moment): Promise<boolean> {
  return (await ask<boolean>({ picture: moment }, PICTURE_MS)) === true;
}

export function keyFramesFast(file: string, container: string): Promise<SeenKeys | null> {
  return ask<SeenKeys>({ keyFrames: { file, container } }, PICTURE_MS);
}

interface Process {
  readonly child: ChildProcess;
  waiting: ((answer: unknown) => void) | null;
  asked: number;
  hasStarted: boolean;
  idle: NodeJS.Timeout | null;
}

let current: Process | null = null;
let failedStarts = 0;
let few = 0;
let turn: Promise<unknown> = Promise.resolve();

/** One at a time: the process does one after the other, and a time limit is of one file. Nobody waits for its start. */
async function ask<Answer>(asked: Asked, mostMs: number): Promise<Answer | null> {
  if (failedStarts >= MOST_FAILED_STARTS || ++few <= FEW) return null;
  current ??= begin();
  if (!current.hasStarted) return null;
  const answer = turn.then(() => askNow(asked, mostMs) as Promise<Answer | null>);
  turn = answer;
  return answer;
}

async function askNow(asked: Asked, mostMs: number): Promise<unknown> {
  const reader = current;
  if (!reader?.hasStarted) return null;
  if (reader.idle) clearTimeout(reader.idle);
  hold(reader, true);
  const answer = await new Promise<unknown>((done) => {
    const timer = setTimeout(() => end(reader), mostMs);
    reader.waiting = (value) => {
      clearTimeout(timer);
      reader.waiting = null;
      done(value);
    };
    reader.child.send(asked, (error) => error && end(reader));
  });
  if (current !== reader) return answer;
  if (++reader.asked >= MOST_ASKED) end(reader);
  else rest(reader);
  return answer;
}

/** While nobody asks it holds up nobody who wants to end, and ends itself after a while. */
function rest(reader: Process): void {
  hold(reader, false);
  reader.idle = setTimeout(() => {
    few = 0;
    end(reader);
  }, IDLE_MS).unref();
}

function begin(): Process {
  const [program, ...args] = hasMemoryLimits()
    ? ['prlimit', `--as=${LOOK_MEMORY_BYTES}`, '--', process.execPath, workerFile('media-reader')]
    : [process.execPath, workerFile('media-reader')];
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'ignore', 'ipc'], detached: true, execArgv: [] } as never);
  const reader: Process = { child, waiting: null, asked: 0, hasStarted: false, idle: null };
  if (child.pid !== undefined) {
    try {
      setPriority(child.pid, constants.priority.PRIORITY_LOW);
    } catch {
      // The system does not let it.
    }
  }
  child.on('message', (answer: unknown) => {
    // Its first word is that it is there.
    if (reader.hasStarted) return reader.waiting?.(answer);
    reader.hasStarted = true;
    failedStarts = 0;
  });
  child.once('error', () => end(reader));
  child.once('exit', () => end(reader));
  rest(reader);
  return reader;
}

/** What was asked of it is answered by null. */
function end(reader: Process): void {
  if (current === reader) current = null;
  if (reader.idle) clearTimeout(reader.idle);
  if (!reader.hasStarted && !reader.child.killed) failedStarts++;
  reader.child.kill('SIGKILL');
  reader.waiting?.(null);
}

function hold({ child }: Process, isHeld: boolean): void {
  if (isHeld) {
    child.ref();
    child.channel?.ref();
  } else {
    child.unref();
    child.channel?.unref();
  }
}

/** However this thread or process ends, its reader ends with it. */
process.on('exit', () => current?.child.kill('SIGKILL'));
