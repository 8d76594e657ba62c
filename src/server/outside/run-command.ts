/**
 * The one door to outside commands (ffmpeg, ffprobe, bridges): never through a shell, each in a process group of its own
 * that is ended as a whole, with limits of time, of what it prints and of memory. None outlives this process's end.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { constants, setPriority } from 'node:os';
import { setTimeout as wait } from 'node:timers/promises';

export interface CommandOptions {
  readonly timeLimitMs: number;
  /** Bytes of standard output and standard error together. */
  readonly mostPrintedBytes?: number;
  /** Address space of the command and its children; only where the system's `prlimit` is there. */
  readonly mostMemoryBytes?: number;
  readonly signal?: AbortSignal;
  readonly cwd?: string;
  /** The whole environment of the command; this process's own where it is left out. */
  readonly env?: Readonly<Record<string, string>>;
  /** What it prints is no text: each letter of `stdout` is a byte then (latin1). */
  readonly asBytes?: boolean;
  /** Gives way to everything else on the machine. */
  readonly inBackground?: boolean;
  /** Looked at several times a second: while it says so the command stands still, where it is. */
  readonly mustWait?: () => boolean;
  /** Looked at twice a second while the command runs: a sentence ends it. */
  readonly watch?: () => Promise<string | null>;
}

export interface CommandResult {
  readonly stdout: string;
  readonly stderr: string;
  /** Null when it was ended from here or by a signal. */
  readonly exitCode: number | null;
  /** Why it was ended; `missing` when there is no such program. */
  readonly ended: 'time' | 'printed' | 'stopped' | 'watched' | 'missing' | 'denied' | null;
  /** What `watch` said. */
  readonly said: string | null;
}

const MOST_PRINTED_BYTES = 64 * 1024 * 1024;
const WATCH_MS = 500;
const WAIT_MS = 150;
/** How long pipes may stay open after the command itself has ended: a child that left the group may hold them. */
const PIPES_MS = 500;

const going = new Set<ChildProcess>();

/** Runs to the end or to a limit; never rejects for what the command does. */
export async function runCommand(program: string, args: readonly string[], options: CommandOptions): Promise<CommandResult> {
  if (options.signal?.aborted) return { stdout: '', stderr: '', exitCode: null, ended: 'stopped', said: null };
  const [command, all] = limited(program, args, options.mostMemoryBytes);
  const child = spawn(command, all, {
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
    ...(options.cwd === undefined ? {} : { cwd: options.cwd }),
    ...(options.env === undefined ? {} : { env: { ...options.env } }),
  });
  going.add(child);
  if (options.inBackground) giveWay(child);
  let ended: CommandResult['ended'] = null;
  let said: string | null = null;
  const end = (why: CommandResult['ended']) => {
    ended ??= why;
    endGroup(child);
  };
  const stop = () => end('stopped');
  options.signal?.addEventListener('abort', stop, { once: true });
  const timer = setTimeout(() => end('time'), options.timeLimitMs);
  const watcher = options.watch
    ? setInterval(() => void options.watch!().then((word) => word !== null && ((said = word), end('watched')), () => undefined), WATCH_MS) // prettier-ignore
    : null;
  const holder = options.mustWait ? setInterval(holdWhile(child, options.mustWait), WAIT_MS) : null;
  const most = options.mostPrintedBytes ?? MOST_PRINTED_BYTES;
  let printed = 0;
  const gather = (stream: NodeJS.ReadableStream, encoding: 'utf8' | 'latin1') => {
    const pieces: Buffer[] = [];
    stream.on('data', (piece: Buffer) => {
      printed += piece.length;
      if (printed > most) end('printed');
      else pieces.push(piece);
    });
    stream.on('error', () => undefined);
    return () => Buffer.concat(pieces).toString(encoding);
  };
  const [stdout, stderr] = [gather(child.stdout, options.asBytes ? 'latin1' : 'utf8'), gather(child.stderr, 'utf8')];
  try {
    const closed = new Promise<void>((done) => child.once('close', () => done()));
    const exitCode = await new Promise<number | null>((done) => {
      child.once('exit', (code) => done(code));
      child.once('error', (error: NodeJS.ErrnoException) => {
        ended = error.code === 'ENOENT' ? 'missing' : (ended ?? (error.code === 'EACCES' ? 'denied' : 'missing'));
        done(null);
      });
    });
    // What it left behind goes with it.
    endGroup(child);
    await Promise.race([closed, wait(PIPES_MS)]);
    child.stdout.destroy();
    child.stderr.destroy();
    return { stdout: stdout(), stderr: stderr(), exitCode: ended === null ? exitCode : null, ended, said };
  } finally {
    clearTimeout(timer);
    if (watcher) clearInterval(watcher);
    if (holder) clearInterval(holder);
    options.signal?.removeEventListener('abort', stop);
    going.delete(child);
  }
}

/** Ends every command that is still going. */
export function endCommands(): void {
  for (const child of going) endGroup(child);
}

// However this process ends itself, its commands end with it.
process.on('exit', endCommands);

function endGroup(child: ChildProcess): void {
  signalGroup(child, 'SIGKILL');
}

function signalGroup({ pid }: ChildProcess, signal: NodeJS.Signals): void {
  if (pid === undefined) return;
  try {
    process.kill(-pid, signal);
  } catch {
    // The group is gone.
  }
}

/** Stops and continues the group as it is told. */
function holdWhile(child: ChildProcess, mustWait: () => boolean): () => void {
  let isHeld = false;
  return () => {
    if (mustWait() === isHeld) return;
    isHeld = !isHeld;
    signalGroup(child, isHeld ? 'SIGSTOP' : 'SIGCONT');
  };
}

function giveWay(child: ChildProcess): void {
  if (child.pid === undefined) return;
  try {
    setPriority(child.pid, constants.priority.PRIORITY_LOW);
  } catch {
    // It is over already, or the system does not let it.
  }
}

let prlimit: boolean | null = null;

/** Whether this system has a command that limits the memory of another. */
export function hasMemoryLimits(): boolean {
  return (prlimit ??= spawnSync('prlimit', ['--version'], { stdio: 'ignore' }).status === 0);
}

function limited(program: string, args: readonly string[], bytes: number | undefined): [string, string[]] {
  return bytes === undefined || !hasMemoryLimits() ? [program, [...args]] : ['prlimit', [`--as=${bytes}`, '--', program, ...args]];
}
