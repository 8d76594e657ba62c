/** A server of its own process on a folder of the test: killed, stopped and started at will, spoken to by HTTP. */
import { spawn, type ChildProcess } from 'node:child_process';
import { join, resolve } from 'node:path';

export class LiveServer {
  private child: ChildProcess | null = null;
  private address = '';

  constructor(
    readonly folder: string,
    private readonly more: readonly string[] = [],
  ) {}

  async start(env: Record<string, string> = {}): Promise<void> {
    const args = [
      resolve('dist/main.mjs'),
      '--data',
      join(this.folder, 'data'),
      '--roots',
      this.folder,
      '--port',
      '0',
      '--watch',
      'off',
      ...this.more,
    ];
    const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'], env: { ...process.env, ...env } });
    this.child = child;
    this.address = await new Promise<string>((done, fail) => {
      child.once('exit', (code) => fail(new Error(`the server ended at once with ${code}`)));
      child.stdout.on('data', (piece: Buffer) => {
        const found = /http:\S+/.exec(piece.toString());
        if (found) done(found[0]);
      });
    });
  }

  get pid(): number {
    return this.child?.pid ?? 0;
  }

  /** An answer as it comes. */
  raw(path: string, init: RequestInit = {}): Promise<Response> {
    return fetch(`${this.address}api/${path}`, init);
  }

  get port(): number {
    return Number(new URL(this.address).port);
  }

  /** Resolves when the process is gone, however it ends. */
  async gone(): Promise<void> {
    const { child } = this;
    if (child && child.exitCode === null && child.signalCode === null) await new Promise((done) => child.once('exit', done));
    this.child = null;
  }

  async kill(signal: 'SIGKILL' | 'SIGTERM' = 'SIGKILL'): Promise<void> {
    this.child?.kill(signal);
    await this.gone();
  }

  get running(): boolean {
    return this.child !== null && this.child.exitCode === null && this.child.signalCode === null;
  }

  /** Status and JSON of an answer. */
  async ask<T = unknown>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
    const init = body === undefined ? { method } : { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
    const response = await fetch(`${this.address}api/${path}`, init);
    const text = await response.text();
    return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
  }

  /** As ask, but a refusal is an error of the test. */
  async get<T>(path: string): Promise<T> {
    const { status, body } = await this.ask<T>('GET', path);
    if (status >= 400) throw new Error(`${path}: ${status} ${JSON.stringify(body)}`);
    return body;
  }

  async post<T>(path: string, body: unknown = {}): Promise<T> {
    const answer = await this.ask<T>('POST', path, body);
    if (answer.status >= 400) throw new Error(`${path}: ${answer.status} ${JSON.stringify(answer.body)}`);
    return answer.body;
  }
}
