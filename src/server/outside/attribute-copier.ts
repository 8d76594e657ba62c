/**
 * `cp --attributes-only` for file after file: one small process waits for pairs of paths, since starting a command out of this large
 * one takes longer than all that it does. Paths reach it as lines to be read, never as a part of a command.
 */
import { spawn, type ChildProcessByStdio } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import { runCommand } from './run-command';

const SCRIPT = 'while IFS= read -r what && IFS= read -r from && IFS= read -r to; do cp --attributes-only "--preserve=$what" -- "$from" "$to" 2>/dev/null; echo $?; done'; // prettier-ignore
const LONGEST_MS = 60_000;

type Copier = ChildProcessByStdio<Writable, Readable, null>;

let copier: Copier | null = null;
/** Who waits for an answer, in the order of the questions. */
let waiting: ((done: boolean) => void)[] = [];

/** Whether `what` (as `cp --preserve` names it) was put on `to` as `from` has it; false where something of it could not be. */
export async function copyAttributes(what: string, from: string, to: string): Promise<boolean> {
  // Such names would be two lines.
  if (from.includes('\n') || to.includes('\n')) {
    const { exitCode } = await runCommand('cp', ['--attributes-only', `--preserve=${what}`, '--', from, to], { timeLimitMs: LONGEST_MS });
    return exitCode === 0;
  }
  const own = (copier ??= open());
  const answer = new Promise<boolean>((done) => waiting.push(done));
  const timer = setTimeout(() => own.kill('SIGKILL'), LONGEST_MS);
  own.stdin.write(`${what}\n${from}\n${to}\n`);
  try {
    return await answer;
  } finally {
    clearTimeout(timer);
  }
}

function open(): Copier {
  const child = spawn('sh', ['-c', SCRIPT], { stdio: ['pipe', 'pipe', 'ignore'] });
  const over = () => {
    if (copier !== child) return;
    copier = null;
    const left = waiting;
    waiting = [];
    for (const done of left) done(false);
  };
  let rest = '';
  child.stdout.setEncoding('utf8').on('data', (piece: string) => {
    const lines = `${rest}${piece}`.split('\n');
    rest = lines.pop()!;
    for (const line of lines) waiting.shift()?.(line === '0');
  });
  child.on('error', over);
  child.on('close', over);
  // It has gone; what was asked of it is answered by `over`.
  child.stdin.on('error', () => undefined);
  // It ends with its input, which ends with this process, and keeps that from ending no longer than an answer takes.
  child.unref();
  for (const stream of [child.stdin, child.stdout]) (stream as unknown as { unref(): void }).unref();
  return child;
}
