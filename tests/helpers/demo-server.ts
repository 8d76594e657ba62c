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
  stop(): Promise<void>;
}

export async function startDemo(): Promise<DemoServer> {
  const folder = mkdtempSync(join(tmpdir(), 'mill-e2e-'));
  // Times to the nanosecond: a file whose time differs counts as changed.
  execFileSync('cp', ['-a', `${MADE_DEMO}/.`, folder]);
  const roots = ['--roots', join(folder, 'bay/plugged'), '--roots', join(folder, 'elsewhere')];
  const server: ChildProcess = spawn(
    process.execPath,
    ['dist/main.mjs', '--data', join(folder, 'data'), '--bay', join(folder, 'bay'), ...roots, '--port', '0'],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const address = await new Promise<string>((done) =>
    server.stdout!.on('data', (piece: Buffer) => /http:\S+/.exec(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
  );
  return {
    folder,
    address,
    drive: (name) => join(folder, 'bay/plugged', name),
    stop: async () => {
      const over = new Promise((done) => server.once('exit', done));
      if (server.exitCode === null && server.kill('SIGTERM')) await over;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
