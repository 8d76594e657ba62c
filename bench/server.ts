/** A server of its own, as users start it, and questions to it. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { resolve } from 'node:path';

export interface BenchServer {
  readonly pid: number;
  /** With a slash at its end. */
  readonly address: string;
  /** Throws where the answer is a problem. */
  readonly ask: <T>(method: string, to: string, body?: unknown) => Promise<T>;
  readonly stop: () => Promise<void>;
}

/** Takes the build in dist. `roots`: below it lie the shelves. */
export async function startServer(dataFolder: string, roots: string): Promise<BenchServer> {
  const server = spawn(process.execPath, [resolve('dist/main.mjs'), '--data', dataFolder, '--roots', roots, '--port', '0', '--watch', 'off'], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((done) =>
    server.stdout.on('data', (piece: Buffer) => /http:\S+/.test(piece.toString()) && done(/http:\S+/.exec(piece.toString())![0])),
  );
  const ask = async <T>(method: string, to: string, body?: unknown): Promise<T> => {
    const json = { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
    const response = await fetch(`${address}api/${to}`, body === undefined ? { method } : json);
    const text = await response.text();
    if (!response.ok) throw new Error(`${to}: ${response.status} ${text.slice(0, 300)}`);
    return (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : null) as T;
  };
  const stop = async () => {
    const over = once(server, 'exit');
    server.kill('SIGTERM');
    await over;
  };
  return { pid: server.pid!, address, ask, stop };
}
