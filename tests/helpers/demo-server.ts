/** The demo production with a server of its own for one browser test: made once a run, copied for each. */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

/** Where the run's global setup makes the demo. */
export const MADE_DEMO = resolve('.setup/e2e-demo');

export interface DemoServer {
  readonly folder: string;
  readonly address: string;
  drive(name: string): string;
  /** Ends the process as a power cut would; nothing is removed. */
  kill(): Promise<void>;
  /** Stops it where it stands: it hears and answers nothing, and its connections stay. */
  hold(): void;
  goOn(): void;
  /** Starts it again at the same address. */
  start(): Promise<void>;
  stop(): Promise<void>;
}

export async function startDemo(...options: readonly string[]): Promise<DemoServer> {
  const folder = mkdtempSync(join(tmpdir(), 'mill-e2e-'));
  // Times to the nanosecond: a file whose time differs counts as changed.
  execFileSync('cp', ['-a', `${MADE_DEMO}/.`, folder]);
  const roots = ['--roots', join(folder, 'bay/plugged'), '--roots', join(folder, 'elsewhere')];
  const open = async (port: string): Promise<{ server: ChildProcess; address: string }> => {
    const server = spawn(
      process.execPath,
      ['dist/main.mjs', '--data', join(folder, 'data'), '--bay', join(folder, 'bay'), ...roots, '--port', port, '--watch', 'off', ...options],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    const address = await new Promise<string>((done) =>
      server.stdout.on('data', (piece: Buffer) => /http:\S+/.exec(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
    );
    return { server, address };
  };
  const opened = await open('0');
  let { server } = opened;
  const end = async (signal: NodeJS.Signals) => {
    const over = new Promise((done) => server.once('exit', done));
    if (server.exitCode === null && server.signalCode === null && server.kill(signal)) await over;
  };
  return {
    folder,
    address: opened.address,
    drive: (name) => join(folder, 'bay/plugged', name),
    kill: () => end('SIGKILL'),
    hold: () => void server.kill('SIGSTOP'),
    goOn: () => void server.kill('SIGCONT'),
    start: async () => {
      ({ server } = await open(new URL(opened.address).port));
    },
    stop: async () => {
      await end('SIGTERM');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
